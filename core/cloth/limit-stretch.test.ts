import { expect } from 'chai';
import { createPosedCollision, packCollision, poseCollision } from '../bodies/index.ts';
import type { ClothSolver } from './cloth-solver.ts';
import { OVER_CAP } from './limit-stretch.ts';
import { createSheet } from './test-cloth.ts';
import { FRAME, hang, SOLVER_NAMES } from './test-hang.ts';
import { STILL_AIR } from './wind.ts';

const CAP = 1.05;

/** Most that an edge is longer than at rest, of those of which an end is free. */
function measureMostStrain({ garment, positions: x, state }: ClothSolver): number {
  const { stretchPairs, stretchRest, stretchShape } = garment;
  let most = 0;
  for (let s = 0; s < stretchRest.length; s++) {
    const [a, b] = [stretchPairs[2 * s]!, stretchPairs[2 * s + 1]!];
    if (stretchShape[s] === 0 || state.inverseMasses[a]! + state.inverseMasses[b]! === 0) continue;
    const length = Math.hypot(...[0, 1, 2].map((k) => x[4 * a + k]! - x[4 * b + k]!));
    most = Math.max(most, length / stretchRest[s]! - 1);
  }
  return most;
}

for (const name of SOLVER_NAMES) {
  describe(`an edge of cloth that is torn at, ${name} solver`, () => {
    /** A curtain with a hem of slivers, between balls that go apart through it, back and forth. */
    const tear = (stretchCap: number): { most: number; outside: number } => {
      const rows = 12;
      const sheet = createSheet(12, rows, (u, v) => [
        0.4 * (u - 0.5),
        v === 1 ? -0.4 - 0.003 : (-0.4 * v * rows) / (rows - 1),
        0,
      ]);
      const solver = hang(
        name,
        sheet,
        { stretchCap, thickness: 0.004, friction: 0.6, damping: 1 },
        (_x, y) => (y > -0.01 ? 0 : 0.25),
      );
      let [most, outside] = [0, 0];
      for (let frame = 0; frame < 180; frame++) {
        const way = 0.16 * Math.sin(0.35 * frame);
        const packed = packCollision(
          [-1, 1].map((side) => ({
            kind: 'sphere' as const,
            node: 0,
            a: [side * 0.06, -0.36, side * way] as [number, number, number],
            b: [0, 0, 0] as [number, number, number],
            radiusA: 0.07,
            radiusB: 0.07,
          })),
        );
        const bodies = createPosedCollision(packed);
        poseCollision(packed, Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1), bodies);
        solver.step(FRAME, solver.garment.restPositions, { wind: STILL_AIR, bodies });
        most = Math.max(most, measureMostStrain(solver));
        const { positions: x, garment, state } = solver;
        for (let i = 0; i < garment.pointCount; i++) {
          const gone = Math.hypot(...[0, 1, 2].map((k) => x[4 * i + k]! - garment.restPositions[4 * i + k]!));
          outside = Math.max(outside, gone - state.reach[i]!);
        }
      }
      return { most, outside };
    };

    it('ends no frame longer than the cap and half of itself, and nothing leaves its max distance for it', () => {
      const { most, outside } = tear(CAP);
      expect(most).below(CAP + OVER_CAP - 1 + 1e-3);
      expect(outside).below(1e-5);
    });

    it('would be torn apart if nothing limited it', () => {
      expect(tear(50).most).above(2 * (CAP + OVER_CAP - 1));
    });
  });
}
