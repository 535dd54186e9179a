import { multiplyMatrices } from '../math/index.ts';
import type { SolverState } from './solver-state.ts';

/** x → turn · x + displacement, v → turn · v + velocity. */
export interface RigidMotion {
  /** 3×3 by columns. */
  turn: readonly number[];
  /** m */
  displacement: readonly [number, number, number];
  /** m/s */
  velocity: readonly [number, number, number];
}

type Turn = RigidMotion['turn'];
type Displacement = RigidMotion['displacement'];

/** Turns one row by a 3×3 matrix by columns. */
export function rotateRow(rows: Float32Array, o: number, m: Turn): void {
  const x = rows[o]!;
  const y = rows[o + 1]!;
  const z = rows[o + 2]!;
  for (let k = 0; k < 3; k++) rows[o + k] = m[k]! * x + m[3 + k]! * y + m[6 + k]! * z;
}

/** Moves all that a solver keeps from the last frame. Ours. */
export function carryState(state: SolverState, { turn, displacement, velocity }: RigidMotion): void {
  for (const rows of [state.positions, state.goodPositions, state.targets])
    carryRows(rows, turn, displacement);
  for (const rows of [state.velocities, state.goodVelocities]) carryRows(rows, turn, velocity);
  // Two places and their radii, and so two rows.
  carryRows(state.capsulesTo, turn, displacement);
  for (let o = 0; o < state.planesTo.length; o += 4) {
    rotateRow(state.planesTo, o, turn);
    const along = displacement.reduce((sum, value, k) => sum + value * state.planesTo[o + k]!, 0);
    state.planesTo[o + 3] = state.planesTo[o + 3]! + along;
  }
  for (let o = 0; o < state.hullBoxesTo.length; o += 8) carryBox(state.hullBoxesTo, o, turn, displacement);
  for (const { to, normals } of state.surfaces) {
    carryRows(to, turn, displacement);
    for (let o = 0; o < normals.length; o += 4) rotateRow(normals, o, turn);
  }
}

/** World matrices after the same motion, [n, 16]. */
export function carryFrames(frames: Float64Array, { turn, displacement }: RigidMotion): Float64Array {
  const motion = Float64Array.of(
    ...[0, 1, 2].flatMap((column) => [...turn.slice(3 * column, 3 * column + 3), 0]),
    ...displacement,
    1,
  );
  const carried = new Float64Array(frames.length);
  for (let o = 0; o < frames.length; o += 16) multiplyMatrices(carried, o, motion, 0, frames, o);
  return carried;
}

function carryRows(rows: Float32Array, turn: Turn, displacement: Displacement): void {
  for (let o = 0; o < rows.length; o += 4) {
    rotateRow(rows, o, turn);
    for (let k = 0; k < 3; k++) rows[o + k] = rows[o + k]! + displacement[k]!;
  }
}

/** A box along the axes around the turned one: low corner, 0, high corner, 0. */
function carryBox(boxes: Float32Array, o: number, turn: Turn, displacement: Displacement): void {
  const middle = [0, 1, 2].map((k) => 0.5 * (boxes[o + k]! + boxes[o + 4 + k]!));
  const half = [0, 1, 2].map((k) => 0.5 * (boxes[o + 4 + k]! - boxes[o + k]!));
  for (let k = 0; k < 3; k++) {
    let place = displacement[k]!;
    let reach = 0;
    for (let j = 0; j < 3; j++) {
      place += turn[3 * j + k]! * middle[j]!;
      reach += Math.abs(turn[3 * j + k]!) * half[j]!;
    }
    boxes[o + k] = place - reach;
    boxes[o + 4 + k] = place + reach;
  }
}
