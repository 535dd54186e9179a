import type { FrameNumbers } from '../frame-numbers.ts';
import type { SolverState } from '../solver-state.ts';
import { createCapsule, createHull, type MovingShape, resolveContact } from './moving-shape.ts';

/** All bodies in a substep, round ones first. @param substep - From 0. */
export function listShapes(state: SolverState, frame: FrameNumbers, substep: number): MovingShape[] {
  const start = substep / frame.substeps;
  const end = (substep + 1) / frame.substeps;
  return [
    ...Array.from({ length: frame.capsuleCount }, (_, c) => createCapsule(state, frame, c, start, end)),
    ...Array.from({ length: frame.hullCount }, (_, k) => createHull(state, frame, k, start, end)),
  ];
}

const push: [number, number, number] = [0, 0, 0];

/** Pushes points out of the bodies, with friction, see `resolveContact`. */
export function solveBodies(
  { positions: x, velocities: v, predicted, inverseMasses }: SolverState,
  frame: FrameNumbers,
  shapes: readonly MovingShape[],
): void {
  const { h } = frame;
  for (const shape of shapes) {
    const { low, high } = shape;
    for (let i = 0; i < inverseMasses.length; i++) {
      if (inverseMasses[i] === 0) continue;
      const o = 4 * i;
      const px = x[o]!;
      const py = x[o + 1]!;
      const pz = x[o + 2]!;
      // Where the point was at the start of the substep.
      const sx = predicted[o]! - h * v[o]!;
      const sy = predicted[o + 1]! - h * v[o + 1]!;
      const sz = predicted[o + 2]! - h * v[o + 2]!;
      if (Math.max(px, sx) < low[0] || Math.min(px, sx) > high[0]) continue;
      if (Math.max(py, sy) < low[1] || Math.min(py, sy) > high[1]) continue;
      if (Math.max(pz, sz) < low[2] || Math.min(pz, sz) > high[2]) continue;
      if (!resolveContact(shape, frame, [px, py, pz], [sx, sy, sz], push)) continue;
      x[o] = px + push[0];
      x[o + 1] = py + push[1];
      x[o + 2] = pz + push[2];
    }
  }
}
