import { expect } from 'chai';
import fc from 'fast-check';
import { BodyDistances, type BodyShape } from '../bodies/index.ts';
import { createSheet, createTestCharacter } from '../cloth/test-cloth.ts';
import {
  BODY_DEFAULTS,
  createDocument,
  createGarment,
  insertGarment,
  type RecordId,
} from '../document/index.ts';
import { BodyContacts, type CharacterRun, createRun } from './index.ts';

/** A sheet that hangs by a corner among some bodies, with every vertex where it fell to. */
function drape(shapes: readonly BodyShape[]): CharacterRun {
  const sheet = createSheet(13, 9, (u, v) => [0.6 * u, 0.02 * Math.sin(9 * u), -0.6 * v]);
  const character = createTestCharacter(sheet.positions, sheet.triangles);
  const document = createDocument();
  let count = 0;
  const made = createGarment(character, document, 0, () => `id-${++count}` as RecordId);
  insertGarment(
    document,
    made,
    Float32Array.from(made.maxDistances, (_, p) => (p < 3 ? 0 : 1)),
  );
  shapes.forEach((shape, i) => {
    const id = `body-${i}` as RecordId;
    const jointName = character.skeleton.names[0]!;
    const bodySetId = made.bodySet!.id;
    document.records.set(id, { type: 'body', id, bodySetId, name: id, jointName, shape, ...BODY_DEFAULTS });
  });
  const run = createRun(document, character);
  for (let frame = 0; frame < 25; frame++) run.step();
  return run;
}

const place = fc.tuple(
  fc.double({ min: 0, max: 0.6, noNaN: true }),
  fc.double({ min: -0.4, max: 0.05, noNaN: true }),
  fc.double({ min: -0.6, max: 0, noNaN: true }),
);
const radius = fc.double({ min: 0.005, max: 0.2, noNaN: true });
const round = fc
  .record({ a: place, b: place, radiusA: radius, radiusB: radius })
  .chain((shape) =>
    fc.constantFrom<BodyShape>(
      { ...shape, kind: 'taperedCapsule' },
      { ...shape, kind: 'capsule', radiusB: shape.radiusA },
      { ...shape, kind: 'sphere', b: shape.a, radiusB: shape.radiusA },
    ),
  );
const plane = place.map((point): BodyShape => ({ kind: 'plane', point, normal: [0, 1, 0] }));

describe('contacts of cloth with bodies', () => {
  it('are those that asking every vertex about every body finds', () => {
    let contacts = 0;
    fc.assert(
      fc.property(fc.array(fc.oneof(round, round, plane), { minLength: 1, maxLength: 5 }), (shapes) => {
        const run = drape(shapes);
        const [garment] = run.garments;
        const found: string[] = [];
        new BodyContacts().visit(run, ({ point, id }) => found.push(`${point} ${id}`));
        const { met, solver, setup } = garment!;
        const distances = new BodyDistances(met);
        distances.pose(run.pose.worldMatrices);
        const within = solver.fabric.thickness + 0.0005;
        const asked: string[] = [];
        for (let i = 0; i < setup.compiled.pointCount; i++) {
          if (setup.maxDistances[setup.compiled.weldedOfPoint[i]!] === 0) continue;
          const [x, y, z] = solver.positions.subarray(4 * i, 4 * i + 3) as unknown as [
            number,
            number,
            number,
          ];
          met.forEach((body, b) => {
            if (distances.measureMet(b, x, y, z) <= within) asked.push(`${i} ${body.id}`);
          });
        }
        expect(found).deep.equal(asked);
        contacts += found.length;
      }),
      { numRuns: 40 },
    );
    expect(contacts).above(200);
  });
});
