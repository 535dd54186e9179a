import { expect } from 'chai';
import type { CollisionShape } from '../bodies/index.ts';
import { createRandom } from '../math/index.ts';
import type { ClothSolver } from './cloth-solver.ts';
import { createSheet } from './test-cloth.ts';
import { FRAME, hang, poseShapes, type Sheet, SOLVER_NAMES, type SolverName } from './test-hang.ts';
import { STILL_AIR } from './wind.ts';

const SPACING = 0.035;
const SIDE = 16;
const WIDTH = SIDE * SPACING;

/** A level drum skin about the origin; `uneven`: points shifted by a third of their spacing. */
function createDrum(isUneven: boolean): Sheet {
  const random = createRandom(7);
  return createSheet(SIDE, SIDE, (u, v) => {
    const isBorder = [0, 1].includes(u) || [0, 1].includes(v);
    const shift = (): number => (isUneven && !isBorder ? 0.6 * (random() - 0.5) * SPACING : 0);
    return [WIDTH * (u - 0.5) + shift(), 0, WIDTH * (0.5 - v) + shift()];
  });
}

function hold(name: SolverName, sheet: Sheet): ClothSolver {
  return hang(name, sheet, { thickness: 0.004, damping: 2 }, (x, _y, z) =>
    Math.max(Math.abs(x), Math.abs(z)) > 0.499 * WIDTH ? 0 : 1e6,
  );
}

/** Height of the cloth above or below a place in plan, m. */
function measureHeight({ garment, positions: x }: ClothSolver, px: number, pz: number): number {
  for (let t = 0; t < garment.triangles.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => 4 * garment.triangles[t + k]!) as [number, number, number];
    const area = (p: number[], q: number[], r: number[]): number =>
      (q[0]! - p[0]!) * (r[1]! - p[1]!) - (q[1]! - p[1]!) * (r[0]! - p[0]!);
    const [pa, pb, pc] = [a, b, c].map((o) => [x[o]!, x[o + 2]!]) as [number[], number[], number[]];
    const whole = area(pa, pb, pc);
    const [u, v] = [area([px, pz], pb, pc) / whole, area(pa, [px, pz], pc) / whole];
    if (u < 0 || v < 0 || u + v > 1) continue;
    return u * x[a + 1]! + v * x[b + 1]! + (1 - u - v) * x[c + 1]!;
  }
  return Number.NEGATIVE_INFINITY;
}

/** Drives a shape up through the middle of the drum at a speed, and some frames more. @returns How far it stands out of it at most, m. */
function drive(
  solver: ClothSolver,
  shape: CollisionShape,
  top: number,
  speed: number,
  places: [number, number][],
): number {
  let height = -top - 0.05;
  solver.reset(solver.garment.restPositions, { bodies: poseShapes([shape], at(height)) });
  let most = 0;
  for (let frame = 0; frame < 0.11 / (speed * FRAME) + 12; frame++) {
    height = Math.min(0.06 - top, height + speed * FRAME);
    solver.step(FRAME, solver.garment.restPositions, {
      wind: STILL_AIR,
      bodies: poseShapes([shape], at(height)),
    });
    for (const place of places) most = Math.max(most, height + top - measureHeight(solver, ...place));
  }
  return most;
}

const at = (y: number): Float64Array => Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, y, 0, 1);

/** In plan from a corner of a square of the drum: a corner, the middles of a side, of the diagonal, and of a triangle. */
const PLACES = [
  [0, 0],
  [0.5, 0],
  [0.5, 0.5],
  [1 / 3, 2 / 3],
] as const;

for (const name of SOLVER_NAMES) {
  describe(`bodies against the faces of a coarse mesh, ${name} solver`, () => {
    for (const isUneven of [false, true])
      it(`stay beneath ${isUneven ? 'uneven' : 'even'} cloth down to a quarter of its spacing, at up to 10 m/s`, () => {
        const sheet = createDrum(isUneven);
        for (const share of [0.25, 0.3, 0.5, 0.9, 1.2])
          for (const speed of [0.5, 3, 10])
            for (const [u, v] of PLACES) {
              const radius = share * SPACING;
              const [x, z] = [u * SPACING, v * SPACING];
              const ball: CollisionShape = {
                kind: 'sphere',
                node: 0,
                a: [x, 0, z],
                b: [x, 0, z],
                radiusA: radius,
                radiusB: radius,
              };
              const out = drive(hold(name, sheet), ball, radius, speed, [[x, z]]);
              expect(out, `${share} of the spacing at ${speed} m/s, ${u} ${v}`).below(
                Math.max(0.004, 0.15 * radius),
              );
            }
      });

    it('do not sink a rod, or a thin box, into them', () => {
      const rod: CollisionShape = {
        kind: 'capsule',
        node: 0,
        a: [-0.12, 0, 0.012],
        b: [0.12, 0, 0.02],
        radiusA: 0.01,
        radiusB: 0.01,
      };
      const along: [number, number][] = [-0.1, -0.05, 0, 0.05, 0.1].map((x) => [x, 0.016 + x / 30]);
      expect(drive(hold(name, createDrum(false)), rod, 0.01, 2, along)).below(0.004);
      const box: CollisionShape = {
        kind: 'box',
        node: 0,
        centre: [0, 0, 0.01],
        halfSize: [0.1, 0.03, 0.01],
        rotation: [0, 0, 0, 1],
      };
      expect(
        drive(hold(name, createDrum(true)), box, 0.03, 2, [
          [0, 0.01],
          [0.06, 0.01],
          [-0.06, 0.01],
        ]),
      ).below(0.006);
    });
  });
}
