import { expect } from 'chai';
import { createDocument, listGarments, listSteps } from '../../core/document/index.ts';
import { createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import { bindSection } from '../../core/rig/index.ts';
import { keepDrape } from './keep-drape.ts';
import type { PreviewClient } from './preview-client.ts';
import { openWorkshop, useWorkshop, type Workshop } from './test-preparation.ts';

/** A preview whose last frame has every vertex of some sections so far below its bind place, m. */
function fakePreview(shop: Workshop, sections: readonly number[], fall: number): PreviewClient {
  const [garment] = listGarments(shop.editor.document);
  const floats: number[] = [];
  const layouts = sections.map((sectionIndex) => {
    const positions = floats.length;
    const atRest = bindSection(shop.editor.character, sectionIndex);
    floats.push(...atRest.map((value, i) => (i % 3 === 1 ? value - fall : value)));
    return { sectionIndex, positions, normals: 0, vertexCount: atRest.length / 3 };
  });
  const [simulated, ...renders] = layouts;
  const frame = {
    floats: Float32Array.from(floats),
    layout: { garments: [{ ...simulated, id: garment!.id, renders }] },
  };
  return { readFrame: () => frame } as unknown as PreviewClient;
}

describe('keeping the shape that a garment fell into', () => {
  const read = useWorkshop(() => openWorkshop(createWardrobe(), createDocument()));
  let shop: Workshop;
  beforeEach(() => {
    shop = read();
    shop.editor.addGarment(1);
  });

  const lowest = (index: number): number =>
    bindSection(shop.editor.character, index).reduce(
      (low, y, i) => (i % 3 === 1 ? Math.min(low, y) : low),
      9,
    );

  it('moves its section to where it was seen, one step that is taken back as one', async () => {
    const [garment] = listGarments(shop.editor.document);
    const before = bindSection(shop.editor.character, 1);
    await keepDrape({ ...shop, preview: fakePreview(shop, [1], 0.05) }, garment!.id, true);
    const after = bindSection(shop.editor.character, 1);
    after.forEach((value, i) => {
      expect(value).closeTo(before[i]! - (i % 3 === 1 ? 0.05 : 0), 1e-5);
    });
    // As long at rest as before.
    expect(shop.editor.character.sections[1]!.restPositions).deep.equal(before);
    expect(listSteps(shop.editor.document)).length(1);
    expect(shop.editor.undo()).equal('Drape Skirt');
    expect(listSteps(shop.editor.document)).deep.equal([]);
  });

  it('moves a sim mesh and what is drawn in its place together', async () => {
    await shop.preparing.simMeshes.make(listGarments(shop.editor.document)[0]!, {
      edgeLength: 0.06,
      borderDetail: 0.5,
    });
    const [garment] = listGarments(shop.editor.document);
    const before = [lowest(1), lowest(2)];
    await keepDrape({ ...shop, preview: fakePreview(shop, [2, 1], 0.1) }, garment!.id, false);
    expect(lowest(1)).closeTo(before[0]! - 0.1, 1e-4);
    expect(lowest(2)).closeTo(before[1]! - 0.1, 1e-4);
    shop.editor.undo();
    expect(listSteps(shop.editor.document)).length(1);
  });

  it('is refused of a garment that is not simulated', async () => {
    const [garment] = listGarments(shop.editor.document);
    const preview = { readFrame: () => null } as unknown as PreviewClient;
    const error: unknown = await keepDrape({ ...shop, preview }, garment!.id, true).catch(
      (reason: unknown) => reason,
    );
    expect((error as Error).message).equal('the garment is not simulated now');
  });
});
