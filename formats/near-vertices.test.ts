import { expect } from 'chai';
import { createDocument, createGarment, insertGarment, type RecordId } from '../core/document/index.ts';
import { weldPoints } from '../core/mesh/index.ts';
import { checkSection, prepareCharacter } from '../core/prepare/index.ts';
import { addStep } from '../core/prepare/test-wardrobe.ts';
import { readCharacter, writeShipment } from './index.ts';
import { createStrip } from './test-gltf.ts';

/** The strip as two halves whose seam is a nanometre apart, with other weights on its two sides. */
function createSplit() {
  const builder = createStrip();
  const rows = [0, 0.5, 0.5 + 1e-7, 1];
  const positions = Float32Array.from(rows.flatMap((y) => [-0.2, y, 0.1 * y, 0.2, y, 0]));
  const weights = [0.1, 0.4, 0.6, 0.9].flatMap((w) => [1 - w, w, 0, 0, 1 - w, w, 0, 0]);
  const { attributes } = builder.json.meshes![0]!.primitives![0]!;
  attributes!.POSITION = builder.add('VEC3', positions, { min: [-0.2, 0, 0], max: [0.2, 1, 0.1] });
  attributes!.JOINTS_0 = builder.add('VEC4', Uint8Array.from(rows.flatMap(() => [0, 1, 0, 0, 0, 1, 0, 0])));
  attributes!.WEIGHTS_0 = builder.add('VEC4', Float32Array.from(weights));
  builder.json.meshes![0]!.primitives![0]!.indices = builder.add(
    'SCALAR',
    Uint16Array.of(0, 1, 2, 1, 3, 2, 4, 5, 6, 5, 7, 6),
  );
  return builder.toGlb();
}

const read = (bytes: Uint8Array, keepsSeams = false) =>
  readCharacter([{ name: 'strip.glb', bytes, keepsSeams }]);

describe('a seam that rounding set apart', () => {
  it('is closed on reading and told: the check, a garment and a sim mesh count the same points', async () => {
    const { character, report } = await read(createSplit());
    expect(report.repairs.find(({ code }) => code === 'near-vertices')!.sentence).contain('2 vertices');
    expect(weldPoints(character.sections[0]!.positions).pointCount).equal(6);
    const kinds = checkSection(character, 0).map(({ kind }) => kind);
    expect(kinds).not.include.oneOf(['unweldedSeam', 'loosePiece']);
    const { maxDistances } = createGarment(character, createDocument(), 0, () => 'id' as RecordId);
    expect(maxDistances.length).equal(6);
    const authored = createDocument();
    addStep(authored, 'Strip', { kind: 'makeSimMesh', edgeLength: 0.2, borderDetail: 0.5, others: [] }, 0);
    const { character: made, problems } = prepareCharacter(character, authored);
    expect(problems).deep.equal([]);
    expect(checkSection(made, 1).map(({ kind }) => kind)).not.include('loosePiece');
  });

  it('is closed in what is shipped, with the maps that were painted', async () => {
    const source = await read(createSplit());
    const authored = createDocument();
    let ids = 0;
    const made = createGarment(source.character, authored, 0, () => `id-${++ids}` as RecordId);
    insertGarment(authored, made, Float32Array.of(0, 0, 0.1, 0.2, 0.3, 0.4));
    const shipped = await readCharacter([
      { name: 'again.glb', bytes: await writeShipment(source, authored), keepsSeams: true },
    ]);
    expect(weldPoints(shipped.character.sections[0]!.positions).pointCount).equal(6);
    const values = [...shipped.authored!.arrays.values()][0]!;
    expect([...values]).deep.equal([0, 0, 0.1, 0.2, 0.3, 0.4].map(Math.fround));
  });

  it('stays open in files that were brought in before it was closed: their maps count its points', async () => {
    const { character, report } = await read(createSplit(), true);
    expect(report.repairs.map(({ code }) => code)).not.include('near-vertices');
    expect(weldPoints(character.sections[0]!.positions).pointCount).equal(8);
  });

  it('is closed in an OBJ', async () => {
    const text =
      'o strip\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nv 0 1.0000001 0\nv 1 1.0000001 0\nv 0 2 0\nv 1 2 0\n' +
      'f 1 2 4 3\nf 5 6 8 7\n';
    const { character, report } = await readCharacter([
      { name: 'strip.obj', bytes: new TextEncoder().encode(text) },
    ]);
    expect(weldPoints(character.sections[0]!.positions).pointCount).equal(6);
    expect(report.repairs.map(({ code, where }) => [code, where])).deep.equal([['near-vertices', 'strip']]);
  });
});
