import { expect } from 'chai';
import { createDocument, createGarment, insertGarment, type RecordId } from '../document/index.ts';
import { createTube } from '../mesh/test-surfaces.ts';
import { prepareCharacter } from '../prepare/index.ts';
import { addStep, createWardrobe } from '../prepare/test-wardrobe.ts';
import { createRigidCharacter } from '../rig/index.ts';
import { createSectionMesh } from '../steps/index.ts';
import { StretchMeasure } from '../trials/index.ts';
import { CharacterRun } from './character-run.ts';
import { createRun } from './create-run.ts';
import { setUpGarments } from './garment-setup.ts';

/** A skirt of two sides 4 mm apart, each of 36 by 20, the inner one wound inward. */
function createTwoSided() {
  const [outer, inner] = [0, 0.004].map((inward) => createTube(36, 20, (v) => 0.2 + 0.1 * v - inward));
  const count = outer!.positions.length / 3;
  const turned = inner!.triangles.map((_, i) => inner!.triangles[i - (i % 3) + [0, 2, 1][i % 3]!]! + count);
  const character = createRigidCharacter(
    'skirt',
    Float32Array.from([...outer!.positions, ...inner!.positions]),
    Uint32Array.from([...outer!.triangles, ...turned]),
  );
  return { character, count };
}

describe('a garment with two sides', () => {
  it('lets its inner side ride on the outer: it keeps its distance however the cloth moves', () => {
    const { character, count } = createTwoSided();
    const document = createDocument();
    let ids = 0;
    const made = createGarment(character, document, 0, () => `id-${++ids}` as RecordId);
    insertGarment(
      document,
      made,
      made.maxDistances.map((_, p) => (p % count < 36 ? 0 : 1)),
    );
    const measure = (lining: 'none' | 'inside'): { riding: number; farthest: number } => {
      document.records.set(made.garment.id, { ...made.garment, lining });
      const [setup] = setUpGarments(character, document);
      const run = new CharacterRun(character, [setup!]);
      run.wind = { windSpeed: 6, windDirection: 0, windGusts: 0, windTurbulence: 0 };
      for (let frame = 0; frame < 60; frame++) run.step();
      const { positions, targets } = { positions: run.garments[0]!.shown, targets: run.garments[0]!.targets };
      const pointOf = new Map(Array.from(setup!.compiled.weldedOfPoint, (welded, p) => [welded, p]));
      let farthest = 0;
      let moved = 0;
      for (let p = 0; p < count; p++) {
        const [a, b] = [4 * pointOf.get(p)!, 4 * pointOf.get(p + count)!];
        const distance = Math.hypot(...[0, 1, 2].map((k) => positions[a + k]! - positions[b + k]!));
        farthest = Math.max(farthest, distance);
        moved = Math.max(moved, Math.hypot(...[0, 1, 2].map((k) => positions[a + k]! - targets[a + k]!)));
      }
      expect(moved).above(0.05);
      return { riding: setup!.lining?.reduce((sum, one) => sum + one, 0) ?? 0, farthest };
    };
    const free = measure('none');
    expect(free.riding).equal(0);
    const riding = measure('inside');
    expect(riding.riding).equal(count);
    expect(riding.farthest).below(0.006);
    // Each for itself, the two sides part.
    expect(free.farthest).above(1.5 * riding.farthest);
  });

  it('that were made behind an open surface, thin or thick, move as calmly as the open surface did', () => {
    const source = createWardrobe();
    const measure = (thickness: number, rim: 'rounded' | 'square'): number => {
      const document = createDocument();
      if (thickness > 0) addStep(document, 'Skirt', { kind: 'thicken', thickness, rim });
      const { character } = prepareCharacter(source, document);
      let ids = 0;
      const made = createGarment(character, document, 1, () => `id-${++ids}` as RecordId);
      made.garment.lining = thickness > 0 ? 'inside' : 'none';
      insertGarment(document, made);
      const { pointPositions: positions } = createSectionMesh(character, 1);
      document.arrays.set(
        made.channel.id,
        made.maxDistances.map((_, p) => Math.max(0, -positions[3 * p + 1]! - 0.03)),
      );
      const run = createRun(document, character);
      run.wind = { windSpeed: 6, windDirection: 0, windGusts: 0, windTurbulence: 0 };
      const stretch = new StretchMeasure(run);
      let worst = 0;
      for (let frame = 0; frame < 90; frame++) {
        run.step();
        worst = Math.max(worst, stretch.measure(0.99)[0]!.shared);
      }
      return worst;
    };
    const open = measure(0, 'square');
    for (const thickness of [0.003, 0.01])
      for (const rim of ['square', 'rounded'] as const)
        expect(measure(thickness, rim), `${thickness} m, ${rim}`).below(open + 0.1);
  });
});
