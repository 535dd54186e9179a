import { expect } from 'chai';
import {
  type AuthoredDocument,
  createDocument,
  createGarment,
  insertGarment,
  type RecordId,
} from '../document/index.ts';
import { createWardrobe } from '../prepare/test-wardrobe.ts';
import type { Character } from '../rig/index.ts';
import { createRun, GarmentCache, setUpRun } from './index.ts';

const [LEG, SKIRT] = [0, 1];

/** The leg and, over it, the skirt: both hang from their upper edges. */
function dress(): { character: Character; document: AuthoredDocument; cache: GarmentCache } {
  const character = createWardrobe();
  const document = createDocument();
  let ids = 0;
  for (const section of [LEG, SKIRT]) {
    const made = createGarment(character, document, section, () => `id-${++ids}` as RecordId);
    insertGarment(
      document,
      made,
      made.maxDistances.map((_, p) => (p < 45 ? 0 : 0.2)),
    );
  }
  return { character, document, cache: new GarmentCache() };
}

function change(character: Character, index: number, factor: number): Character {
  const section = character.sections[index]!;
  const changed = { ...section, positions: section.positions.map((value) => factor * value) };
  return { ...character, sections: character.sections.map((one, i) => (i === index ? changed : one)) };
}

describe('another set-up while a character runs', () => {
  it('makes the garment anew whose mesh is another; the one beneath goes on to the last bit', () => {
    const { character, document, cache } = dress();
    const [run, undisturbed] = [createRun(document, character, { cache }), createRun(document, character)];
    for (const each of [run, undisturbed]) {
      each.play(0);
      for (let frame = 0; frame < 40; frame++) each.step();
    }
    const [leg, skirt] = run.garments;
    expect(run.takeSetup(setUpRun(document, change(character, SKIRT, 1.01), { cache }))).equal(true);
    expect(run.garments[0]).equal(leg);
    expect(run.garments[1]).not.equal(skirt);
    // It begins on its skinned places, in the pose that is.
    const made = run.garments[1]!;
    const { pointCount } = made.setup.compiled;
    for (let i = 0; i < 4 * pointCount; i++)
      if (i % 4 < 3) expect(made.solver.positions[i]).closeTo(made.targets[i]!, 1e-6);
    for (const each of [run, undisturbed]) for (let frame = 0; frame < 40; frame++) each.step();
    expect(leg!.solver.positions).deep.equal(undisturbed.garments[0]!.solver.positions);
    expect([...made.solver.positions.subarray(0, 4 * pointCount)].every(Number.isFinite)).equal(true);
  });

  it('makes those anew that lie over another that is', () => {
    const { character, document, cache } = dress();
    const run = createRun(document, character, { cache });
    const before = run.garments.slice();
    expect(run.takeSetup(setUpRun(document, change(character, LEG, 0.99), { cache }))).equal(true);
    expect(run.garments.map((garment, i) => garment === before[i])).deep.equal([false, false]);
    expect(run.garments[1]!.beneath).deep.equal([run.garments[0]]);
  });

  it('runs as one made of the new set-up', () => {
    const { character, document } = dress();
    const other = change(change(character, SKIRT, 1.01), LEG, 0.99);
    const [run, fresh] = [createRun(document, character), createRun(document, other)];
    run.takeSetup(setUpRun(document, other));
    for (const each of [run, fresh]) for (let frame = 0; frame < 30; frame++) each.step();
    expect(run.garments.map(({ solver }) => solver.positions)).deep.equal(
      fresh.garments.map(({ solver }) => solver.positions),
    );
  });

  it('is not taken when the sections are of another number or the body of another shape: nothing changes', () => {
    const { character, document } = dress();
    const run = createRun(document, character);
    const before = run.garments.slice();
    const more = { ...character, sections: [...character.sections, character.sections[LEG]!] };
    const leg = character.sections[LEG]!;
    const wide = { name: 'wide', positions: leg.positions, normals: null };
    const broad = {
      ...character,
      sections: [{ ...leg, morphs: [wide], morphWeights: Float32Array.of(0.5) }, character.sections[SKIRT]!],
    };
    for (const other of [more, broad]) expect(run.takeSetup(setUpRun(document, other))).equal(false);
    expect(run.garments.every((garment, i) => garment === before[i])).equal(true);
  });
});
