import { expect } from 'chai';
import type { CollisionShape } from '../bodies/index.ts';
import type { ClothSolver } from './cloth-solver.ts';
import type { FabricSettings } from './fabric-parameters.ts';
import { createSheet } from './test-cloth.ts';
import {
  FRAME,
  hang,
  NO_BODIES,
  poseShapes,
  positionOf,
  SOLVER_NAMES,
  type SolverName,
  STILL,
} from './test-hang.ts';
import { visitStrains } from './visit-strains.ts';
import { STILL_AIR } from './wind.ts';

const FREE = (): number => 1e6;

function translation(x: number, y: number, z: number): Float64Array {
  return Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1);
}

function stepOn(solver: ClothSolver, shapes: readonly CollisionShape[], world?: Float64Array): void {
  const bodies = poseShapes(shapes, world);
  solver.step(FRAME, solver.garment.restPositions, { wind: STILL_AIR, bodies });
}

const BALL: CollisionShape = {
  kind: 'sphere',
  node: 0,
  a: [0, 0, 0],
  b: [0, 0, 0],
  radiusA: 0.1,
  radiusB: 0.1,
};

/**
 * A sheet over a coarser one that faces up and moves up and down.
 * @param start - Height of the sheet at first, m. @param height - Of the surface, frame by frame.
 */
function layOver(
  name: SolverName,
  start: number,
  fabric: Partial<FabricSettings>,
  height: (frame: number) => number,
  frames: number,
  each: (solver: ClothSolver, frame: number) => void,
  maxDistance: (x: number, y: number, z: number) => number = FREE,
): void {
  const under = createSheet(8, 8, (u, v) => [0.6 * u - 0.3, 0, 0.6 * v - 0.3]);
  const over = createSheet(14, 14, (u, v) => [0.5 * u - 0.25, start, 0.5 * v - 0.25]);
  const solver = hang(name, over, fabric, maxDistance, {
    surfaces: [{ pointCount: 81, triangles: under.triangles, spacing: 0.08 }],
  });
  const positions = new Float32Array(4 * 81);
  const put = (frame: number): void => {
    for (let p = 0; p < 81; p++) {
      positions.set([under.positions[3 * p]!, height(frame), under.positions[3 * p + 2]!, 0], 4 * p);
    }
  };
  put(0);
  solver.reset(solver.garment.restPositions, { bodies: NO_BODIES, surfaces: [positions] });
  for (let frame = 1; frame <= frames; frame++) {
    put(frame);
    solver.step(FRAME, solver.garment.restPositions, { ...STILL, surfaces: [positions] });
    each(solver, frame);
  }
}

function measureLowest({ garment, positions }: ClothSolver): number {
  let lowest = Number.POSITIVE_INFINITY;
  for (let i = 0; i < garment.pointCount; i++) lowest = Math.min(lowest, positions[4 * i + 1]!);
  return lowest;
}

/** A solid of each kind around the origin, and how far out a place is of it at least. */
const SOLIDS: readonly { name: string; shape: CollisionShape; measure: (p: readonly number[]) => number }[] =
  [
    { name: 'a sphere', shape: BALL, measure: (p) => Math.hypot(...p) - 0.1 },
    {
      name: 'a capsule',
      shape: { ...BALL, kind: 'capsule', a: [-0.3, 0, 0], b: [0.3, 0, 0] },
      measure: ([x, y, z]) => Math.hypot(Math.max(0, Math.abs(x!) - 0.3), y!, z!) - 0.1,
    },
    {
      name: 'a tapered capsule',
      shape: { ...BALL, kind: 'taperedCapsule', a: [-0.3, 0, 0], b: [0.3, 0, 0], radiusB: 0.05 },
      // Inside everywhere: the capsule of the smaller radius.
      measure: ([x, y, z]) => Math.hypot(Math.max(0, Math.abs(x!) - 0.3), y!, z!) - 0.05,
    },
    {
      name: 'a box',
      shape: { kind: 'box', node: 0, centre: [0, 0, 0], rotation: [0, 0, 0, 1], halfSize: [0.3, 0.08, 0.2] },
      measure: ([x, y, z]) => Math.max(Math.abs(x!) - 0.3, Math.abs(y!) - 0.08, Math.abs(z!) - 0.2),
    },
    {
      name: 'a convex hull',
      shape: {
        kind: 'hull',
        node: 0,
        points: Float32Array.of(0.3, 0, 0, -0.3, 0, 0, 0, 0.1, 0, 0, -0.1, 0, 0, 0, 0.3, 0, 0, -0.3),
      },
      measure: ([x, y, z]) =>
        (Math.abs(x!) / 0.3 + Math.abs(y!) / 0.1 + Math.abs(z!) / 0.3 - 1) /
        Math.hypot(1 / 0.3, 1 / 0.1, 1 / 0.3),
    },
    {
      name: 'a plane',
      shape: { kind: 'plane', node: 0, point: [0, 0, 0], normal: [0, 1, 0] },
      measure: ([, y]) => y!,
    },
  ];

for (const name of SOLVER_NAMES) {
  describe(`the ${name} solver and bodies`, () => {
    for (const { name: solid, shape, measure } of SOLIDS) {
      it(`lays a sheet on ${solid} at its thickness`, () => {
        const sheet = createSheet(16, 16, (u, v) => [0.5 * u - 0.25, 0.15, 0.5 * v - 0.25]);
        const solver = hang(name, sheet, { thickness: 0.01, damping: 2, friction: 1 }, FREE);
        let least = Number.POSITIVE_INFINITY;
        for (let frame = 0; frame < 40; frame++) {
          stepOn(solver, [shape]);
          for (let i = 0; i < 289; i++) least = Math.min(least, measure(positionOf(solver, i)));
        }
        expect(least).above(0.01 - 2e-4);
        expect(least).below(0.03);
      });
    }

    it('lets nothing through that comes at 10 m/s, however thin', () => {
      for (const [kind, radius] of [
        ['capsule', 0.02],
        ['box', 0.015],
      ] as const) {
        const bar: CollisionShape =
          kind === 'box'
            ? { kind, node: 0, centre: [0, 0, 0], rotation: [0, 0, 0, 1], halfSize: [0.4, 0.4, radius] }
            : { kind, node: 0, a: [-0.4, 0, 0], b: [0.4, 0, 0], radiusA: radius, radiusB: radius };
        const sheet = createSheet(10, 10, (u, v) => [0.3 * u - 0.15, 0.1 - 0.2 * v, 0]);
        const solver = hang(name, sheet, { substepsPerSecond: 240, thickness: 0.004, gravityScale: 0 }, FREE);
        let z = -0.5;
        stepOn(solver, [bar], translation(0, 0, z));
        for (let frame = 0; frame < 12; frame++) {
          z += 10 * FRAME;
          stepOn(solver, [bar], translation(0, 0, z));
        }
        // The points in the way of a capsule's axis; all of them before a box.
        for (let i = 0; i < 121; i++) {
          if (kind === 'box' || Math.floor(i / 11) === 5) expect(positionOf(solver, i)[2]).above(z);
        }
      }
    });

    it('holds on a slope that friction allows and slides off a steeper one, within a degree', () => {
      const slide = (degrees: number): number => {
        const friction = 0.5;
        const angle = (degrees * Math.PI) / 180;
        const [s, c] = [Math.sin(angle), Math.cos(angle)];
        // Lies on the slope to begin with.
        const sheet = createSheet(6, 6, (u, v) => [
          0.1 * u * c - 0.003 * s,
          0.003 * c + 0.1 * u * s,
          0.1 * v,
        ]);
        const solver = hang(name, sheet, { friction, thickness: 0.003, substepsPerSecond: 480 }, FREE);
        const slope: CollisionShape = { kind: 'plane', node: 0, point: [0, 0, 0], normal: [-s, c, 0] };
        for (let frame = 0; frame < 60; frame++) stepOn(solver, [slope]);
        const [x, y] = positionOf(solver, 24);
        return Math.hypot(x - 0.05 * c + 0.003 * s, y - 0.003 * c - 0.05 * s);
      };
      const limit = (Math.atan(0.5) * 180) / Math.PI;
      expect(slide(limit - 1)).below(0.002);
      // g (sin - μ cos) t² / 2 for a degree is 10 cm in a second.
      expect(slide(limit + 1)).above(0.05);
    });

    it('drags a resting sheet along with a moving body only when there is friction', () => {
      const displacement = (friction: number): number => {
        const sheet = createSheet(4, 4, (u, v) => [0.1 * u - 0.05, 0.002, 0.1 * v - 0.05]);
        const solver = hang(name, sheet, { friction, thickness: 0.002, substepsPerSecond: 480 }, FREE);
        const log: CollisionShape = {
          ...BALL,
          kind: 'capsule',
          a: [-2, -50, 0],
          b: [2, -50, 0],
          radiusA: 50,
        };
        for (let frame = 0; frame < 60; frame++) stepOn(solver, [log], translation(0.005 * frame, 0, 0));
        return positionOf(solver, 12)[0];
      };
      expect(displacement(0)).closeTo(0, 0.01);
      expect(displacement(1)).closeTo(0.295, 0.03);
    });

    it('lets a point that began inside out gently', () => {
      const sheet = createSheet(4, 4, (u, v) => [0.03 + 0.02 * u, 0.02 * v, 0.01]);
      const solver = hang(name, sheet, { gravityScale: 0, damping: 2 }, FREE);
      for (let frame = 0; frame < 60; frame++) {
        stepOn(solver, [BALL]);
        for (let i = 0; i < 25; i++) {
          const o = 4 * solver.garment.pointOfVertex[i]!;
          expect(Math.hypot(...solver.velocities.subarray(o, o + 3))).below(2);
        }
      }
      for (let i = 0; i < 25; i++) expect(Math.hypot(...positionOf(solver, i))).above(0.0995);
    });
  });

  describe(`the ${name} solver, cloth against cloth`, () => {
    it('keeps the two halves of a folded sheet apart', () => {
      const fold = (selfDistance: number): number => {
        // A sheet folded over at x = 0, the upper half above the lower; it falls flat on a floor.
        const sheet = createSheet(24, 8, (u, v) => {
          const s = 0.6 * (u - 0.5);
          return [Math.abs(s), s > 0 ? 0.06 * Math.min(1, s / 0.05) : 0, 0.2 * v];
        });
        const solver = hang(name, sheet, { selfDistance, damping: 2, thickness: 0.002 }, FREE);
        const floor: CollisionShape = { kind: 'plane', node: 0, point: [0, -0.01, 0], normal: [0, 1, 0] };
        for (let frame = 0; frame < 60; frame++) stepOn(solver, [floor]);
        let least = Number.POSITIVE_INFINITY;
        const { restPositions } = solver.garment;
        for (let i = 0; i < 225; i++) {
          for (let j = 0; j < i; j++) {
            const [p, q] = [i, j].map((k) => 4 * solver.garment.pointOfVertex[k]!) as [number, number];
            const rest = Math.hypot(...[0, 1, 2].map((k) => restPositions[p + k]! - restPositions[q + k]!));
            if (rest < 0.02) continue;
            least = Math.min(
              least,
              Math.hypot(...[0, 1, 2].map((k) => solver.positions[p + k]! - solver.positions[q + k]!)),
            );
          }
        }
        return least;
      };
      expect(fold(0)).below(0.008);
      expect(fold(0.015)).above(0.0135);
    });

    it('keeps a garment outside the one beneath, which moves', () => {
      const apart = (layerMargin: number): number => {
        const height = (frame: number): number => 0.05 * Math.sin(0.2 * frame);
        let least = Number.POSITIVE_INFINITY;
        layOver(name, 0.02, { layerMargin, damping: 1, friction: 0.4 }, height, 59, (solver, frame) => {
          least = Math.min(least, measureLowest(solver) - height(frame));
        });
        return least;
      };
      expect(apart(0)).below(-0.1);
      expect(apart(0.005)).within(0.0045, 0.01);
    });

    it('carries cloth on a surface that strikes it at 5 m/s', () => {
      const height = (frame: number): number => (5 * Math.min(frame, 6)) / 60;
      layOver(name, 0.02, { layerMargin: 0.005, gravityScale: 0 }, height, 20, (solver, frame) => {
        expect(measureLowest(solver)).above(height(frame) + 0.003);
      });
    });

    it('lets cloth out again within half a second that got two centimetres beneath', () => {
      const fabric = { layerMargin: 0.005, damping: 1, friction: 0.4 };
      let [sunk, least] = [0, 0];
      layOver(
        name,
        0.02,
        fabric,
        () => 0,
        60,
        (solver, frame) => {
          least = measureLowest(solver);
          if (frame !== 30) return;
          const { garment, positions, velocities, state } = solver;
          for (let i = 0; i < garment.pointCount; i++) {
            const o = 4 * i;
            if (Math.hypot(positions[o]!, positions[o + 2]!) > 0.12) continue;
            positions[o + 1] = -0.02;
            state.goodPositions[o + 1] = -0.02;
            velocities.fill(0, o, o + 3);
            sunk++;
          }
        },
      );
      expect(sunk).above(20);
      expect(least).above(0.004);
    });

    it('lets a sheet that is held below a surface stay there, rather than stretch it', () => {
      const stiff = { stretchWarp: 4000, stretchWeft: 4000, shearStiffness: 1600, damping: 2 };
      let worst = 0;
      const isInside = (x: number, _y: number, z: number): number =>
        Math.max(Math.abs(x), Math.abs(z)) < 0.249 ? 1e6 : 0;
      const measure = (solver: ClothSolver): void => {
        worst = 0;
        visitStrains(solver.garment, solver.positions, (strain) => {
          worst = Math.max(worst, strain);
        });
      };
      layOver(name, -0.02, { ...stiff, layerMargin: 0.005 }, () => 0, 60, measure, isInside);
      expect(worst).below(0.08);
    });
  });
}

describe('bodies beyond what a solver keeps', () => {
  it('are refused with the number that is possible', () => {
    const solver = hang(
      'kernel' satisfies SolverName,
      createSheet(2, 2, (u, v) => [u, 0, v]),
      {},
      FREE,
    );
    expect(() => stepOn(solver, new Array<CollisionShape>(300).fill(BALL))).throw(RangeError, 'at most 256');
  });
});
