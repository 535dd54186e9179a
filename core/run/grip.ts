import type { CompiledGarment, Pull, SolverIndex } from '../cloth/index.ts';
import type { WeldedIndex } from '../mesh/index.ts';

/** How far around the gripped point the cloth is held, m, and how firmly, a substep. */
const GRIP_RADIUS = 0.05;
const GRIP_STRENGTH = 0.4;

/** A hand's hold on a garment: the points around the one that was picked, in the shape that they had then. */
export interface Grip {
  points: { point: SolverIndex; offset: [number, number, number]; strength: number }[];
}

/**
 * Takes hold of the cloth around a point.
 *
 * @param point - Welded vertex. @param positions - Points of the solver, [n, 4].
 */
export function takeGrip(
  { weldedOfPoint, pointCount }: CompiledGarment,
  point: WeldedIndex,
  positions: Float32Array,
): Grip {
  const centre = 4 * weldedOfPoint.indexOf(point);
  if (centre < 0) return { points: [] };
  const points: Grip['points'] = [];
  for (let i = 0; i < pointCount; i++) {
    const offset = [0, 1, 2].map((k) => positions[4 * i + k]! - positions[centre + k]!) as [
      number,
      number,
      number,
    ];
    const distance = Math.sqrt(offset[0] * offset[0] + offset[1] * offset[1] + offset[2] * offset[2]);
    if (distance > GRIP_RADIUS) continue;
    const near = 1 - distance / GRIP_RADIUS;
    points.push({
      point: i as SolverIndex,
      offset,
      strength: GRIP_STRENGTH * (4 * i === centre ? 1 : near * near),
    });
  }
  points.sort((p, q) => q.strength - p.strength);
  return { points };
}

/** The pull that brings what is held to a place. */
export function moveGrip({ points }: Grip, position: readonly [number, number, number]): Pull {
  return {
    points: points.map(({ point, offset, strength }) => ({
      point,
      position: [position[0] + offset[0], position[1] + offset[1], position[2] + offset[2]],
      strength,
    })),
  };
}
