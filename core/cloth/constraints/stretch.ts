import type { SolverState } from '../solver-state.ts';

/** Pairs shorter than this (m) have no direction. */
const LEAST_LENGTH = 1e-9;

/**
 * One pass over the stretch pairs: each is brought back to the nearer end of its free range, from the shortest length
 * that the threads give way to up to the rest length. Equation (18) of the paper on extended position-based dynamics
 * with λ = 0 at the start of a substep; the factors come from `derivePairs`.
 *
 * Reference: M. Macklin, M. Müller, N. Chentanez, *XPBD: position-based simulation of compliant constrained
 * dynamics*, MIG 2016.
 */
export function solveStretch(state: SolverState): void {
  const { positions: x, pairs, pairLow, pairHigh, pairShareA, pairShareB } = state;
  for (let s = 0; s < pairLow.length; s++) {
    const a = 4 * pairs[2 * s]!;
    const b = 4 * pairs[2 * s + 1]!;
    const dx = x[b]! - x[a]!;
    const dy = x[b + 1]! - x[a + 1]!;
    const dz = x[b + 2]! - x[a + 2]!;
    const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
    const wanted = length < pairLow[s]! ? pairLow[s]! : length > pairHigh[s]! ? pairHigh[s]! : length;
    if (wanted === length) continue;
    const pull = (length - wanted) / (length > LEAST_LENGTH ? length : LEAST_LENGTH);
    const pa = pull * pairShareA[s]!;
    const pb = pull * pairShareB[s]!;
    x[a] = x[a]! + pa * dx;
    x[a + 1] = x[a + 1]! + pa * dy;
    x[a + 2] = x[a + 2]! + pa * dz;
    x[b] = x[b]! - pb * dx;
    x[b + 1] = x[b + 1]! - pb * dy;
    x[b + 2] = x[b + 2]! - pb * dz;
  }
}

/** Takes a share of the speed at which the ends of each pair part or meet, once a frame. */
export function dampEdges(state: SolverState): void {
  const { positions: x, velocities: v, pairs, pairDampA, pairDampB } = state;
  for (let s = 0; s < pairDampA.length; s++) {
    const a = 4 * pairs[2 * s]!;
    const b = 4 * pairs[2 * s + 1]!;
    const dx = x[b]! - x[a]!;
    const dy = x[b + 1]! - x[a + 1]!;
    const dz = x[b + 2]! - x[a + 2]!;
    const lengthSquared = dx * dx + dy * dy + dz * dz;
    const parting =
      ((v[b]! - v[a]!) * dx + (v[b + 1]! - v[a + 1]!) * dy + (v[b + 2]! - v[a + 2]!) * dz) /
      (lengthSquared > LEAST_LENGTH ** 2 ? lengthSquared : LEAST_LENGTH ** 2);
    const pa = parting * pairDampA[s]!;
    const pb = parting * pairDampB[s]!;
    v[a] = v[a]! + pa * dx;
    v[a + 1] = v[a + 1]! + pa * dy;
    v[a + 2] = v[a + 2]! + pa * dz;
    v[b] = v[b]! - pb * dx;
    v[b + 1] = v[b + 1]! - pb * dy;
    v[b + 2] = v[b + 2]! - pb * dz;
  }
}
