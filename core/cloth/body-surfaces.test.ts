import { expect } from 'chai';
import { weldPoints, weldTriangles } from '../mesh/index.ts';
import type { ClothSolver } from './cloth-solver.ts';
import { createSheet } from './test-cloth.ts';
import { FRAME, hang, NO_BODIES, positionOf, SOLVER_NAMES, type SolverName, STILL } from './test-hang.ts';

interface BodyMesh {
  positions: Float32Array;
  triangles: Uint32Array;
  spacing: number;
}

/** A closed surface by angle and height, facing outward. */
function createMesh(
  across: number,
  around: number,
  place: (u: number, angle: number) => [number, number, number],
  spacing: number,
): BodyMesh {
  const sheet = createSheet(across, around, (u, v) => place(u, 2 * Math.PI * (v === 1 ? 0 : v)));
  const { pointCount, vertexOfPoint, pointOfVertex } = weldPoints(sheet.positions);
  const positions = new Float32Array(3 * pointCount);
  vertexOfPoint.forEach((v, p) => {
    positions.set(sheet.positions.subarray(3 * v, 3 * v + 3), 3 * p);
  });
  return { positions, triangles: weldTriangles(sheet.triangles, pointOfVertex), spacing };
}

const tube = (radius: number): BodyMesh =>
  createMesh(16, 16, (u, angle) => [0.8 * u - 0.4, radius * Math.cos(angle), radius * Math.sin(angle)], 0.05);

/** A sheet with a mesh that stands for a body; `put` places it along z. */
function meet(
  name: SolverName,
  mesh: BodyMesh,
  sheet: Parameters<typeof hang>[1],
  fabric: Parameters<typeof hang>[2],
): { solver: ClothSolver; step: (z: number) => void } {
  const { positions, triangles, spacing } = mesh;
  const pointCount = positions.length / 3;
  const solver = hang(name, sheet, fabric, () => 1e6, {
    surfaces: [{ pointCount, triangles, spacing, isBody: true }],
  });
  const places = new Float32Array(4 * pointCount);
  const put = (z: number): void => {
    for (let p = 0; p < pointCount; p++) {
      const [x, y, own] = [positions[3 * p]!, positions[3 * p + 1]!, positions[3 * p + 2]!];
      places.set([x, y, own + z, 0], 4 * p);
    }
  };
  let isFirst = true;
  const step = (z: number): void => {
    put(z);
    if (isFirst) solver.reset(solver.garment.restPositions, { bodies: NO_BODIES, surfaces: [places] });
    isFirst = false;
    solver.step(FRAME, solver.garment.restPositions, { ...STILL, surfaces: [places] });
  };
  return { solver, step };
}

for (const name of SOLVER_NAMES) {
  describe(`a mesh that stands for a body, ${name} solver`, () => {
    it('keeps a sheet that falls on it at the margin, within a millimetre of its facets', () => {
      const sheet = createSheet(16, 16, (u, v) => [0.5 * u - 0.25, 0.15, 0.5 * v - 0.25]);
      const radius = 0.1;
      const { solver, step } = meet(name, tube(radius), sheet, {
        thickness: 0.01,
        damping: 2,
        friction: 1,
      });
      let least = Number.POSITIVE_INFINITY;
      for (let frame = 0; frame < 60; frame++) {
        step(0);
        for (let i = 0; i < 289; i++) {
          const [, y, z] = positionOf(solver, i);
          least = Math.min(least, Math.hypot(y, z));
        }
      }
      // Facets of sixteen lie so far within the round.
      const within = radius * (1 - Math.cos(Math.PI / 16));
      expect(least).above(radius - within + 0.01 - 0.001);
      expect(least).below(radius + 0.014);
    });

    it('lets nothing through at 10 m/s, as thick as a thigh or a wrist', () => {
      for (const radius of [0.1, 0.05, 0.03]) {
        const sheet = createSheet(10, 10, (u, v) => [0.3 * u - 0.15, 0.1 - 0.2 * v, 0]);
        const fabric = { substepsPerSecond: 360, thickness: 0.004, gravityScale: 0 };
        const { solver, step } = meet(name, tube(radius), sheet, fabric);
        let z = -0.5;
        step(z);
        for (let frame = 0; frame < 12; frame++) {
          z += 10 * FRAME;
          step(z);
          // The points in the way of its axis stay before its front.
          if (z < -radius) continue;
          for (let i = 55; i < 66; i++) expect(positionOf(solver, i)[2], `${radius}`).above(z + 0.8 * radius);
        }
      }
    });
  });
}

/** How many blocks of points look for the mesh in every substep, near it and away from it: it reaches over |x| < 0.1. */
function countFast(solver: ClothSolver): { near: number; away: number } {
  const { fastBlocks } = solver.state.surfaces[0]!;
  const count = { near: 0, away: 0 };
  for (let first = 0; first < solver.garment.pointCount; first += 16) {
    if (!fastBlocks[first / 16]) continue;
    let nearest = Number.POSITIVE_INFINITY;
    for (let i = first; i < Math.min(first + 16, solver.garment.pointCount); i++)
      nearest = Math.min(nearest, Math.abs(solver.positions[4 * i]!));
    // What may be met in the frame lies a little beside it.
    count[nearest < 0.15 ? 'near' : 'away']++;
  }
  return count;
}

describe('both solvers and a mesh that moves fast', () => {
  const short = createMesh(
    8,
    16,
    (u, angle) => [0.2 * u - 0.1, 0.05 * Math.cos(angle), 0.05 * Math.sin(angle)],
    0.025,
  );
  const sheet = () => createSheet(40, 4, (u, v) => [1.6 * u - 0.8, 0.06 - 0.12 * v, 0]);
  const fabric = { thickness: 0.004, gravityScale: 0 };

  for (const name of SOLVER_NAMES) {
    it(`look for it in every substep near it alone, and only while it moves against the cloth, ${name}`, () => {
      const { solver, step } = meet(name, short, sheet(), fabric);
      step(-0.2);
      step(-0.2);
      expect(countFast(solver)).deep.equal({ near: 0, away: 0 });
      step(-0.2 + 10 * FRAME);
      const fast = countFast(solver);
      expect(fast.near).above(0);
      expect(fast.away).equal(0);
    });
  }

  it('leave it at that when the cloth moves along', () => {
    for (const name of SOLVER_NAMES) {
      const { solver, step } = meet(name, short, sheet(), fabric);
      step(-0.2);
      step(-0.2);
      const { velocities, inverseMasses } = solver.state;
      for (let i = 0; i < solver.garment.pointCount; i++)
        if (inverseMasses[i]! > 0) velocities[4 * i + 2] = 10;
      step(-0.2 + 10 * FRAME);
      expect(countFast(solver), name).deep.equal({ near: 0, away: 0 });
    }
  });
});

describe('both solvers and a mesh that stands for a body', () => {
  it('move alike while it is fast', () => {
    const runs = SOLVER_NAMES.map((name) => {
      const sheet = createSheet(10, 10, (u, v) => [0.3 * u - 0.15, 0.1 - 0.2 * v, 0]);
      const { solver, step } = meet(name, tube(0.05), sheet, { thickness: 0.004, damping: 1 });
      for (let frame = 0; frame < 10; frame++) step(-0.3 + 4 * FRAME * frame);
      return solver.positions;
    });
    // Folds that buckle do so a little differently.
    const apart = Float64Array.from({ length: 4 * 121 }, (_, i) => Math.abs(runs[0]![i]! - runs[1]![i]!));
    expect(Math.max(...apart)).below(5e-3);
    expect(apart.reduce((sum, value) => sum + value, 0) / apart.length).below(5e-4);
  });
});
