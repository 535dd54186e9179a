import type { FrameNumbers } from '../frame-numbers.ts';
import type { SolverState } from '../solver-state.ts';
import { createCapsule, createHull, isWithinBox, type MovingShape, resolveContact } from './moving-shape.ts';

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
    for (let i = 0; i < inverseMasses.length; i++) {
      if (inverseMasses[i] === 0) continue;
      const o = 4 * i;
      const p: [number, number, number] = [x[o]!, x[o + 1]!, x[o + 2]!];
      // Where the point was at the start of the substep.
      const s: [number, number, number] = [
        predicted[o]! - h * v[o]!,
        predicted[o + 1]! - h * v[o + 1]!,
        predicted[o + 2]! - h * v[o + 2]!,
      ];
      if (!isWithinBox(shape, ...p, ...s) || !resolveContact(shape, frame, p, s, push)) continue;
      for (let k = 0; k < 3; k++) x[o + k] = p[k]! + push[k]!;
    }
  }
}
