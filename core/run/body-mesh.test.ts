import { expect } from 'chai';
import {
  type AuthoredDocument,
  createDocument,
  createGarment,
  insertGarment,
  listGarments,
  type RecordId,
} from '../document/index.ts';
import { prepareCharacter } from '../prepare/index.ts';
import { addStep, createWardrobe } from '../prepare/test-wardrobe.ts';
import type { Character } from '../rig/index.ts';
import { type CharacterRun, createRun, GarmentCache, setUpRun } from './index.ts';

const SKIRT = 1;
const MESH = 'mesh' as RecordId;

/** The skirt over a mesh of 120 vertices that stands for the leg; `margin` m off it. */
function dress(margin = 0): { character: Character; document: AuthoredDocument } {
  const source = createWardrobe();
  const document = createDocument();
  let ids = 0;
  const made = createGarment(source, document, SKIRT, () => `id-${++ids}` as RecordId);
  insertGarment(
    document,
    made,
    made.maxDistances.map((_, p) => (p < 80 ? 0 : 0.4)),
  );
  addStep(
    document,
    'Leg',
    { kind: 'makeBodyMesh', name: 'Body mesh', vertexCount: 120, without: [], others: [] },
    0,
  );
  const { character } = prepareCharacter(source, document);
  document.records.set(MESH, {
    type: 'bodyMesh',
    id: MESH,
    bodySetId: made.bodySet!.id,
    name: 'Leg mesh',
    stepId: null,
    sectionIndex: 2,
    sectionName: 'Body mesh',
    margin,
    group: 2,
  });
  return { character, document };
}

/** The least distance of the skirt from the axis of the leg over half a second in a wind from the side, m. */
function play(run: CharacterRun, frames = 30): number {
  run.wind = { windSpeed: 14, windDirection: 90, windGusts: 0, windTurbulence: 0 };
  let least = Number.POSITIVE_INFINITY;
  for (let frame = 0; frame < frames; frame++) {
    run.step();
    const { positions } = run.garments[0]!.solver;
    const { pointCount } = run.garments[0]!.setup.compiled;
    for (let i = 0; i < pointCount; i++)
      if (positions[4 * i + 1]! > -0.6)
        least = Math.min(least, Math.hypot(positions[4 * i]!, positions[4 * i + 2]!));
  }
  return least;
}

describe('a mesh of a body set', () => {
  it('keeps the cloth of its garments off the leg by thickness and margin; cloth of no such set goes through', () => {
    const { character, document } = dress();
    const met = play(createRun(document, character));
    // Its facets lie a little within and beyond the round.
    expect(met).within(0.094, 0.11);
    const far = dress(0.02);
    expect(play(createRun(far.document, far.character))).closeTo(met + 0.02, 0.004);
    document.records.delete(MESH);
    expect(play(createRun(document, character))).below(0.05);
  });

  it('is met by the garments that meet its group', () => {
    const { character, document } = dress();
    const garment = listGarments(document)[0]!;
    document.records.set(garment.id, { ...garment, bodyGroups: 0b01 });
    expect(setUpRun(document, character).garments[0]!.bodyMeshes).deep.equal([]);
    document.records.set(garment.id, { ...garment, bodyGroups: 0b10 });
    expect(setUpRun(document, character).garments[0]!.bodyMeshes).length(1);
  });

  it('takes another margin and other skin weights while it runs, and makes the garment anew for another mesh', () => {
    const { character, document } = dress();
    const cache = new GarmentCache();
    const run = createRun(document, character, { cache });
    const [garment] = run.garments;
    const before = play(run);
    run.setBodyMargins(garment!.setup.id, new Map([[MESH, 0.012]]));
    play(run, 90);
    expect(play(run)).closeTo(before + 0.012, 0.003);
    const reweighed = character.sections.map((section, s) =>
      s === 2 ? { ...section, jointWeights: section.jointWeights.slice() } : section,
    );
    expect(run.takeWeights({ ...character, sections: reweighed })).equal(true);
    expect(run.garments[0]).equal(garment);
    expect(run.takeSetup(setUpRun(document, character, { cache }))).equal(true);
    expect(run.garments[0]).equal(garment);
    const other = character.sections.map((section, s) =>
      s === 2 ? { ...section, triangles: section.triangles.slice(3) } : section,
    );
    expect(run.takeSetup(setUpRun(document, { ...character, sections: other }, { cache }))).equal(true);
    expect(run.garments[0]).not.equal(garment);
  });

  it('follows the morph targets of the skin that it was made over', () => {
    const { character, document } = dress();
    const leg = character.sections[0]!;
    const grown = leg.positions.map((value, i) => (i % 3 === 1 ? 0 : 0.3 * value));
    const morphs = [{ name: 'thick', positions: grown, normals: null }];
    const source = createWardrobe();
    const sections = source.sections.map((section) => ({
      ...section,
      morphs:
        section.name === 'Leg'
          ? morphs
          : [{ name: 'thick', positions: new Float32Array(section.positions.length), normals: null }],
      morphWeights: [0],
    }));
    const shaped = prepareCharacter({ ...source, sections: sections as never }, document).character;
    expect(shaped.sections[2]!.morphs).length(1);
    const measure = (weight: number): number => {
      const dressed = {
        ...shaped,
        sections: shaped.sections.map((one) => ({ ...one, morphWeights: [weight] })),
      };
      const run = createRun(document, dressed as never);
      const [places] = run.garments[0]!.bodyMeshPlaces;
      let sum = 0;
      for (let p = 0; p < places!.length / 4; p++) sum += Math.hypot(places![4 * p]!, places![4 * p + 2]!);
      return sum / (places!.length / 4);
    };
    expect(measure(1) / measure(0)).closeTo(1.3, 0.01);
  });
});
