import { expect } from 'chai';
import type { ClothSolver } from './cloth-solver.ts';
import { createSheet } from './test-cloth.ts';
import { FRAME, hang, NO_BODIES, SOLVER_NAMES, type SolverName, STILL } from './test-hang.ts';

const MARGIN = 0.005;

interface Roof {
  /** By how much it is bent along z, rad; and the lengths of its edges and of those of the cloth over it, m. */
  bend: number;
  spacing: number;
  clothSpacing: number;
  /** Up and down so fast, m/s at most. */
  speed?: number;
  /** How far the borders of the cloth are drawn down, m. */
  drawn?: number;
}

/** A roof with its ridge along z at y = 0; `s` is the way across it. */
function placeOnRoof(bend: number, s: number, z: number, above: number): [number, number, number] {
  const half = bend / 2;
  return [s * Math.cos(half), above - Math.abs(s) * Math.sin(half), z];
}

/** Cloth over a roof for a second, held by its two lower borders. @param each - After each frame, and how high the ridge is. */
function layOverRoof(
  name: SolverName,
  { bend, spacing, clothSpacing, speed = 0, drawn = 0 }: Roof,
  each: (solver: ClothSolver, height: number) => void,
): void {
  const count = Math.round(0.3 / spacing) * 2;
  const under = createSheet(count, count, (u, v) =>
    placeOnRoof(bend, spacing * count * (u - 0.5), spacing * count * (v - 0.5), 0),
  );
  const across = Math.round(0.4 / clothSpacing);
  // Its points stand a third of an edge beside the ridge.
  const over = createSheet(across, across, (u, v) =>
    placeOnRoof(
      bend,
      clothSpacing * (across * (u - 0.5) + 1 / 3),
      clothSpacing * across * (v - 0.5),
      (1.2 * MARGIN) / Math.cos(bend / 2),
    ),
  );
  const fabric = { layerMargin: MARGIN, damping: 1, friction: 0.4 };
  const pointCount = (count + 1) ** 2;
  const half = clothSpacing * (across / 2 - 0.5) * Math.cos(bend / 2);
  const solver = hang(name, over, fabric, (x) => (Math.abs(x) > half ? 0 : 1e6), {
    surfaces: [{ pointCount, triangles: under.triangles, spacing }],
  });
  const positions = new Float32Array(4 * pointCount);
  const rest = solver.garment.restPositions;
  const targets = rest.slice();
  const put = (height: number, down: number): void => {
    for (let p = 0; p < pointCount; p++) {
      const [x, y, z] = under.positions.subarray(3 * p, 3 * p + 3);
      positions.set([x!, y! + height, z!, 0], 4 * p);
    }
    for (let o = 0; o < targets.length; o += 4) {
      targets[o] = rest[o]! + Math.sign(rest[o]!) * down * Math.cos(bend / 2);
      targets[o + 1] = rest[o + 1]! + height - down * Math.sin(bend / 2);
    }
  };
  put(0, 0);
  solver.reset(targets, { bodies: NO_BODIES, surfaces: [positions] });
  for (let frame = 1; frame <= 60; frame++) {
    const height = (speed / 6) * Math.sin(6 * frame * FRAME);
    put(height, Math.min(1, frame / 20) * drawn);
    solver.step(FRAME, targets, { ...STILL, surfaces: [positions] });
    each(solver, height);
  }
}

/** How far above a place the cloth is, m; endless where there is none. */
function measureHeightOver({ garment, positions: x }: ClothSolver, px: number, pz: number): number {
  const { triangles } = garment;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => 4 * garment.triangles[t + k]!) as [number, number, number];
    const cross = (p: number, q: number): number =>
      (x[p]! - px) * (x[q + 2]! - pz) - (x[q]! - px) * (x[p + 2]! - pz);
    const parts = [cross(b, c), cross(c, a), cross(a, b)];
    const sum = parts[0]! + parts[1]! + parts[2]!;
    if (sum === 0 || parts.some((part) => part / sum < 0)) continue;
    return (parts[0]! * x[a + 1]! + parts[1]! * x[b + 1]! + parts[2]! * x[c + 1]!) / sum;
  }
  return Number.POSITIVE_INFINITY;
}

/** The least that the cloth keeps over the ridge once it lies, m. */
function measureLeast(name: SolverName, roof: Roof): number {
  let frame = 0;
  let least = Number.POSITIVE_INFINITY;
  layOverRoof(name, roof, (solver, height) => {
    frame++;
    if (frame < 30) return;
    for (let z = -0.15; z <= 0.15; z += 0.01)
      least = Math.min(least, measureHeightOver(solver, 0, z) - height);
  });
  return least;
}

for (const name of SOLVER_NAMES) {
  describe(`the ${name} solver, cloth over the ridges of cloth`, () => {
    for (const roof of [
      { bend: 0.6, spacing: 0.03, clothSpacing: 0.03 },
      { bend: 1.6, spacing: 0.03, clothSpacing: 0.03 },
      { bend: 2.6, spacing: 0.03, clothSpacing: 0.03 },
      { bend: 2.6, spacing: 0.015, clothSpacing: 0.03 },
      { bend: 2.6, spacing: 0.05, clothSpacing: 0.03 },
      { bend: 2.6, spacing: 0.03, clothSpacing: 0.03, speed: 1 },
    ] as const satisfies readonly Roof[]) {
      const degrees = Math.round((180 * roof.bend) / Math.PI);
      const mesh = `${100 * roof.clothSpacing} over ${100 * roof.spacing} cm`;
      it(`keeps the margin over one bent by ${degrees}°, ${mesh}${'speed' in roof ? ', in motion' : ''}`, () => {
        expect(measureLeast(name, roof)).above(0.8 * MARGIN);
      });
    }

    it('stays above one over which it is drawn tighter', () => {
      const tight = { spacing: 0.03, clothSpacing: 0.03, drawn: 0.002 };
      for (const bend of [0.6, 1.6, 2.6]) expect(measureLeast(name, { ...tight, bend })).above(0);
    });
  });
}
