import { expect } from 'chai';
import fc from 'fast-check';
import { packBodies } from '../bodies/index.ts';
import { ClothSolver } from './cloth-solver.ts';
import { type CompiledGarment, compileGarment, measureHinge } from './compiled-garment.ts';
import { solveBend, updateRestCurvature } from './constraints/bend.ts';
import { FABRIC_DEFAULTS, type FabricSettings, STANDARD_GRAVITY } from './fabric.ts';
import { createSheet, createTestCharacter } from './test-cloth.ts';

const FRAME = 1 / 60;
const STILL = { wind: [0, 0, 0] as const, bodies: new Float32Array(0) };
const BARE: FabricSettings = { ...FABRIC_DEFAULTS, damping: 0, airDrag: 0, bendStiffness: 0, thickness: 0 };

function hang(
  sheet: { positions: Float32Array; triangles: Uint32Array },
  fabric: Partial<FabricSettings>,
  maxDistance: (x: number, y: number, z: number) => number,
): ClothSolver {
  const garment = compileGarment(createTestCharacter(sheet.positions, sheet.triangles), 0);
  const solver = new ClothSolver(garment, { ...BARE, ...fabric });
  const rest = garment.restPositions;
  const values = Float32Array.from({ length: garment.pointCount }, (_, i) =>
    maxDistance(rest[4 * i]!, rest[4 * i + 1]!, rest[4 * i + 2]!),
  );
  solver.setMaxDistances(values);
  return solver;
}

function run(solver: ClothSolver, seconds: number, each?: (frame: number) => void): void {
  for (let frame = 0; frame < Math.round(seconds / FRAME); frame++) {
    solver.step(FRAME, solver.garment.restPositions, STILL);
    each?.(frame);
  }
}

/** A thin ribbon along x of the given length, `columns` squares long and one wide. */
function ribbon(length: number, columns: number, y = 0): ReturnType<typeof createSheet> {
  const width = length / columns;
  return createSheet(columns, 1, (u, v) => [u * length, y, (v - 0.5) * width]);
}

describe('cloth solver against closed forms', () => {
  it('falls freely by g t² / 2', () => {
    const solver = hang(
      createSheet(4, 4, (u, v) => [u, 5, v]),
      { substeps: 8 },
      () => 1e6,
    );
    run(solver, 0.5);
    // Symplectic Euler is late by half a substep: g t h / 2.
    const h = FRAME / 8;
    const expected = 5 - (STANDARD_GRAVITY * 0.5 * (0.5 + h)) / 2;
    for (let i = 0; i < 25; i++) expect(solver.positions[4 * i + 1]).closeTo(expected, 1e-4);
  });

  it('swings a stiff strip held at one end with the period of a pendulum', () => {
    // A square plate of side 1 hung by one edge, hinged: a rigid rod. T = 2π √(2 L / 3 g) at small angles.
    const tilt = 0.1;
    const sheet = createSheet(8, 8, (u, v) => [v * Math.sin(tilt), -v * Math.cos(tilt), u]);
    const solver = hang(sheet, { substeps: 16, stretchStiffness: 50_000, bendStiffness: 0.1 }, (_x, y) =>
      y > -1e-6 ? 0 : 1e6,
    );
    const crossings: number[] = [];
    let before = 1;
    const tip = 4 * (9 * 8 + 4);
    run(solver, 4, (frame) => {
      const now = solver.positions[tip]!;
      if (before > 0 && now <= 0) crossings.push((frame + 1 - now / (now - before)) * FRAME);
      before = now;
    });
    const period = crossings[1]! - crossings[0]!;
    const expected = 2 * Math.PI * Math.sqrt(2 / (3 * STANDARD_GRAVITY));
    expect(period / expected).closeTo(1, 0.015);
  });

  it('hangs a ribbon between two held ends as a catenary', () => {
    const span = 1;
    const length = 1.4;
    const columns = 40;
    // Starts as a V of the right length, so that the only way is down to the resting curve.
    const half = length / 2;
    const drop = Math.sqrt(half * half - (span / 2) ** 2);
    const width = length / columns;
    const sheet = createSheet(columns, 1, (u, v) => [
      u * span,
      -drop * (1 - Math.abs(2 * u - 1)),
      (v - 0.5) * width,
    ]);
    const solver = hang(sheet, { substeps: 20, stretchStiffness: 50_000, damping: 3 }, (x) =>
      x < 1e-6 || x > span - 1e-6 ? 0 : 1e6,
    );
    run(solver, 8);
    // 2 a sinh(span / 2a) = length.
    let low = 0.01;
    let high = 10;
    for (let i = 0; i < 80; i++) {
      const a = (low + high) / 2;
      if (2 * a * Math.sinh(span / (2 * a)) > length) low = a;
      else high = a;
    }
    const sag = low * (Math.cosh(span / (2 * low)) - 1);
    expect(-solver.positions[4 * (columns / 2) + 1]! / sag).closeTo(1, 0.01);
  });

  it('holds every point within its max distance, for a moving target too', () => {
    const sheet = createSheet(6, 6, (u, v) => [u, 0, v]);
    const solver = hang(sheet, {}, (x, _y, z) => (x === 0 ? 0 : 0.02 + 0.2 * x * z));
    const targets = solver.garment.restPositions.slice();
    for (let frame = 0; frame < 90; frame++) {
      for (let i = 0; i < targets.length; i += 4) {
        targets[i + 1] = 0.4 * Math.sin(frame * 0.3);
        targets[i] = solver.garment.restPositions[i]! + 0.05 * frame;
      }
      solver.step(FRAME, targets, STILL);
      for (let i = 0; i < solver.garment.pointCount; i++) {
        const d = Math.hypot(...[0, 1, 2].map((k) => solver.positions[4 * i + k]! - targets[4 * i + k]!));
        expect(d).at.most(solver.maxDistances[i]! + 1e-5);
      }
    }
  });

  it('hangs a point at exactly its max distance below where it is skinned', () => {
    const solver = hang(ribbon(0.4, 4), { stretchStiffness: 10, damping: 4 }, () => 0.3);
    run(solver, 5);
    for (let i = 0; i < solver.garment.pointCount; i++) {
      expect(solver.positions[4 * i + 1]).closeTo(-0.3, 1e-4);
    }
  });

  it('holds held points on their targets exactly', () => {
    const solver = hang(ribbon(0.4, 4), {}, (x) => (x < 1e-6 ? 0 : 1));
    run(solver, 1);
    expect(solver.positions[1]).equal(0);
    expect(solver.positions[4 * 4 + 1]).below(-0.05);
  });
});

describe('cloth solver and bodies', () => {
  const ball = packBodies([
    { kind: 'sphere', node: 0, a: [0, -0.5, 0], b: [0, 0, 0], radiusA: 0.3, radiusB: 0 },
  ]).rows;

  it('lays a sheet on a sphere at its thickness', () => {
    const solver = hang(
      createSheet(16, 16, (u, v) => [u - 0.5, 0, v - 0.5]),
      { thickness: 0.01, damping: 2, friction: 1 },
      () => 1e6,
    );
    for (let frame = 0; frame < 90; frame++) {
      solver.step(FRAME, solver.garment.restPositions, { wind: [0, 0, 0], bodies: ball });
      for (let i = 0; i < solver.garment.pointCount; i++) {
        const x = solver.positions;
        const d = Math.hypot(x[4 * i]!, x[4 * i + 1]! + 0.5, x[4 * i + 2]!);
        expect(d).at.least(0.31 - 1e-4);
      }
    }
    expect(solver.positions[4 * (8 * 17 + 8) + 1]).closeTo(-0.19, 2e-3);
  });

  it('drags a resting sheet along with a moving body only when there is friction', () => {
    const way = (friction: number): number => {
      const solver = hang(
        createSheet(4, 4, (u, v) => [0.1 * u - 0.05, 0.002, 0.1 * v - 0.05]),
        { friction, thickness: 0.002, substeps: 8 },
        () => 1e6,
      );
      for (let frame = 0; frame < 60; frame++) {
        const x = 0.005 * frame;
        const log = packBodies([
          { kind: 'capsule', node: 0, a: [x - 2, -50, 0], b: [x + 2, -50, 0], radiusA: 50, radiusB: 50 },
        ]).rows;
        solver.step(FRAME, solver.garment.restPositions, { wind: [0, 0, 0], bodies: log });
      }
      return solver.positions[4 * 12]!;
    };
    expect(way(0)).closeTo(0, 0.01);
    expect(way(1)).closeTo(0.295, 0.03);
  });
});

describe('cloth solver settings', () => {
  it('moves with the wind, and by nothing without drag', () => {
    const push = (airDrag: number): number => {
      const solver = hang(
        createSheet(6, 6, (u, v) => [u - 0.5, -v, 0]),
        { airDrag },
        (_x, y) => (y > -1e-6 ? 0 : 1e6),
      );
      for (let frame = 0; frame < 120; frame++) {
        solver.step(FRAME, solver.garment.restPositions, { wind: [0, 0, 6], bodies: STILL.bodies });
      }
      return solver.positions[4 * 45 + 2]!;
    };
    expect(push(0)).closeTo(0, 1e-6);
    expect(push(1)).above(0.3);
  });

  it('droops less when stiffer and more when denser, held at one end', () => {
    const droop = (settings: Partial<FabricSettings>): number => {
      const solver = hang(ribbon(0.3, 6), { damping: 4, substeps: 16, ...settings }, (x) =>
        x < 0.06 ? 0 : 1e6,
      );
      run(solver, 3);
      return -solver.positions[4 * 6 + 1]!;
    };
    const soft = droop({ bendStiffness: 1e-4 });
    const stiff = droop({ bendStiffness: 3e-2 });
    expect(stiff).below(0.6 * soft);
    expect(droop({ bendStiffness: 3e-2, density: 1.4 })).above(1.3 * stiff);
  });

  it('recovers the skinned shape and counts it when numbers break', () => {
    const solver = hang(ribbon(0.4, 4), {}, () => 1);
    solver.step(FRAME, solver.garment.restPositions, { wind: [Number.NaN, 0, 0], bodies: STILL.bodies });
    solver.velocities[1] = Number.POSITIVE_INFINITY;
    solver.step(FRAME, solver.garment.restPositions, STILL);
    expect(solver.recoveredFrames).above(0);
    expect(solver.positions.every(Number.isFinite)).equal(true);
    run(solver, 0.1);
    expect(solver.positions.every(Number.isFinite)).equal(true);
  });

  it('gives the same bytes for the same inputs', () => {
    const once = (): Float32Array => {
      const solver = hang(
        createSheet(9, 7, (u, v) => [u, 0.1 * u * v, v]),
        { bendStiffness: 1e-4, damping: 0.4, airDrag: 1 },
        (x, _y, z) => x * z,
      );
      run(solver, 1);
      return solver.positions;
    };
    expect(once()).deep.equal(once());
  });
});

describe('hinges', () => {
  const angle = fc.double({ min: -1.2, max: 1.2, noNaN: true });
  const size = fc.double({ min: 0.3, max: 1, noNaN: true });
  const hinge = fc.record({
    length: size,
    heights: fc.tuple(size, size),
    feet: fc.tuple(size, size),
    fold: angle,
    turn: fc.tuple(angle, angle, angle),
  });

  it('measure edge length times fold angle for small folds, whatever their shape and place', () => {
    fc.assert(
      fc.property(hinge, (shape) => {
        const fold = 0.02 * shape.fold;
        const { x, garment } = createHinge({ ...shape, fold: 0 });
        expect(garment.bendRest[0]).closeTo(0, 1e-5);
        x.set(createHinge({ ...shape, fold }).x);
        // Heights and lengths scale the angle: the curvature vector is that of two flat triangles that met at the edge.
        expect(measureHinge(x, [0, 1, 2, 3], garment.bendWeights)).closeTo(-shape.length * fold, 3e-4);
      }),
      { numRuns: 300 },
    );
  });

  it('unfold in one stiff step, without moving or turning the whole', () => {
    fc.assert(
      fc.property(hinge, (shape) => {
        const { garment } = createHinge({ ...shape, fold: 0 });
        const { x } = createHinge(shape);
        const before = [0, 1, 2].map((k) => weightedMean(x, k));
        const start = x.slice();
        bendOnce(garment, x, 1e9, 1);
        expect(measureHinge(x, [0, 1, 2, 3], garment.bendWeights)).closeTo(0, 1e-4);
        const momentum = [0, 0, 0];
        for (let i = 0; i < 4; i++) {
          const [r, d] = [start, x].map((rows) => [0, 1, 2].map((k) => rows[4 * i + k]!)) as [Place, Place];
          const way = d.map((value, k) => (value - r[k]!) / x[4 * i + 3]!) as Place;
          for (let k = 0; k < 3; k++) {
            const [p, q] = [(k + 1) % 3, (k + 2) % 3];
            momentum[k] = momentum[k]! + r[p]! * way[q]! - r[q]! * way[p]!;
          }
        }
        for (let k = 0; k < 3; k++) {
          expect(weightedMean(x, k)).closeTo(before[k]!, 1e-5);
          expect(momentum[k]).closeTo(0, 1e-5);
        }
      }),
      { numRuns: 300 },
    );
  });

  it('keep their fold at rest, and go back to it', () => {
    const shape = {
      length: 0.5,
      heights: [0.4, 0.6],
      feet: [0.3, 0.7],
      fold: 0.8,
      turn: [0.3, -0.9, 0.5],
    } as const;
    const { x, garment } = createHinge(shape);
    const atRest = x.slice();
    bendOnce(garment, x, 10, 0.01);
    for (let i = 0; i < 16; i++) expect(x[i]).closeTo(atRest[i]!, 1e-6);
    x.set(createHinge({ ...shape, fold: -0.4 }).x);
    for (let pass = 0; pass < 60; pass++) bendOnce(garment, x, 1e9, 1);
    expect(measureHinge(x, [0, 1, 2, 3], garment.bendWeights)).closeTo(garment.bendRest[0]!, 1e-4);
  });
});

function bendOnce(garment: CompiledGarment, x: Float32Array, stiffness: number, h: number): void {
  const vectors = new Float32Array(3 * garment.bendRest.length);
  updateRestCurvature(garment, x, vectors);
  solveBend(garment, vectors, x, stiffness, h);
}

type Place = [number, number, number];

function rotate(p: Place, [a, b, c]: Place): Place {
  const y1 = p[1] * Math.cos(a) - p[2] * Math.sin(a);
  const z1 = p[1] * Math.sin(a) + p[2] * Math.cos(a);
  const x2 = p[0] * Math.cos(b) + z1 * Math.sin(b);
  const z2 = -p[0] * Math.sin(b) + z1 * Math.cos(b);
  return [x2 * Math.cos(c) - y1 * Math.sin(c), x2 * Math.sin(c) + y1 * Math.cos(c), z2];
}

/** Σ x / w over the four points: mass is one over the last column. */
function weightedMean(x: Float32Array, k: number): number {
  return [0, 1, 2, 3].reduce((sum, i) => sum + x[4 * i + k]! / x[4 * i + 3]!, 0);
}

interface HingeShape {
  length: number;
  heights: readonly [number, number];
  feet: readonly [number, number];
  /** Angle of the second triangle out of the plane of the first, rad. */
  fold: number;
  turn: readonly [number, number, number];
}

/**
 * ```
 *      c      a = 0, b = 1 on the edge, c = 2 above, d = 3 below and folded; all turned obliquely
 *     ╱ ╲
 *    a───b
 *     ╲ ╱
 *      d
 * ```
 */
function createHinge({ length, heights, feet, fold, turn }: HingeShape): {
  x: Float32Array;
  garment: CompiledGarment;
} {
  const corners = [
    [0, 0, 0],
    [length, 0, 0],
    [feet[0] * length, 0, heights[0]],
    [feet[1] * length, -heights[1] * Math.sin(fold), -heights[1] * Math.cos(fold)],
  ].map((p) => rotate(p as Place, [...turn]));
  const garment = compileGarment(
    createTestCharacter(Float32Array.from(corners.flat()), Uint32Array.of(0, 1, 2, 1, 0, 3)),
    0,
  );
  const x = new Float32Array(16);
  corners.forEach((p, i) => {
    x.set([...p, 1 + 0.3 * i], 4 * i);
  });
  return { x, garment };
}
