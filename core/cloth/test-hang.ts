import {
  type CollisionShape,
  createPosedCollision,
  type PosedCollision,
  packCollision,
  poseCollision,
} from '../bodies/index.ts';
import type { ClothSolver, SolverOptions } from './cloth-solver.ts';
import { compileGarment } from './compiled-garment.ts';
import { FABRIC_DEFAULTS } from './fabric.ts';
import type { FabricSettings } from './fabric-parameters.ts';
import { KernelSolver } from './kernel/kernel-solver.ts';
import { PlainSolver } from './plain-solver.ts';
import { createTestCharacter } from './test-cloth.ts';
import { STILL_AIR, type Wind } from './wind.ts';

export const FRAME = 1 / 60;

/** Both must pass every test of physics. */
export const SOLVERS = { plain: PlainSolver, kernel: KernelSolver } as const;
export type SolverName = keyof typeof SOLVERS;
export const SOLVER_NAMES = ['plain', 'kernel'] as const;

export const NO_BODIES: PosedCollision = createPosedCollision(packCollision([]));
export const STILL = { wind: STILL_AIR as Wind, bodies: NO_BODIES };

/** Nothing but threads and gravity. */
export const BARE: FabricSettings = {
  ...FABRIC_DEFAULTS,
  damping: 0,
  airDrag: 0,
  airLift: 0,
  bendStiffness: 0,
  thickness: 0,
  stretchCap: 2,
};

export interface Sheet {
  positions: Float32Array;
  triangles: Uint32Array;
  uvs?: Float32Array;
}

/**
 * A solver for a sheet.
 * @param maxDistance - Of a place at rest, m.
 */
export function hang(
  name: SolverName,
  { positions, triangles, uvs }: Sheet,
  fabric: Partial<FabricSettings>,
  maxDistance: (x: number, y: number, z: number) => number,
  options: SolverOptions = {},
): ClothSolver {
  const character = createTestCharacter(positions, triangles);
  if (uvs) character.sections[0]!.uvs = uvs;
  const garment = compileGarment(character, 0);
  const solver = new SOLVERS[name](garment, { ...BARE, ...fabric }, options);
  const { restPositions: rest, weldedOfPoint } = garment;
  const values = new Float32Array(garment.pointCount);
  weldedOfPoint.forEach((welded, i) => {
    values[welded] = maxDistance(rest[4 * i]!, rest[4 * i + 1]!, rest[4 * i + 2]!);
  });
  solver.setMaxDistances(values);
  return solver;
}

export function run(solver: ClothSolver, seconds: number, each?: (frame: number) => void): void {
  for (let frame = 0; frame < Math.round(seconds / FRAME); frame++) {
    solver.step(FRAME, solver.garment.restPositions, STILL);
    each?.(frame);
  }
}

/** Where a vertex of the sheet is now. */
export function positionOf({ garment, positions }: ClothSolver, vertex: number): [number, number, number] {
  const o = 4 * garment.pointOfVertex[vertex]!;
  return [positions[o]!, positions[o + 1]!, positions[o + 2]!];
}

/** Bodies on the one joint of a test character, carried by a world matrix (columns, default: none). */
export function poseShapes(shapes: readonly CollisionShape[], world?: Float64Array): PosedCollision {
  const packed = packCollision(shapes);
  const posed = createPosedCollision(packed);
  poseCollision(packed, world ?? Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1), posed);
  return posed;
}

/** Kinetic energy and that of height, J. */
export function measureEnergy({ garment, positions: x, velocities: v, state, fabric }: ClothSolver): number {
  let energy = 0;
  for (let i = 0; i < garment.pointCount; i++) {
    const w = state.inverseMasses[i]!;
    if (w === 0) continue;
    const o = 4 * i;
    const squared = v[o]! * v[o]! + v[o + 1]! * v[o + 1]! + v[o + 2]! * v[o + 2]!;
    energy += (0.5 * squared + 9.80665 * fabric.gravityScale * x[o + 1]!) / w;
  }
  return energy;
}
