import type { FrameNumbers } from '../frame-numbers.ts';
import { HELD_BY_TENSION, INERT, TAKEN_BACK } from '../kernel/assembly/constants.ts';
import type { SolverState } from '../solver-state.ts';

/**
 * How far each thread may be pushed before it slides, m, from the tension around it at the start of the frame.
 *
 * Threads that can be pushed together slide along one another. A thread that is pushed becomes shorter, unless the threads around
 * it are taut; a thread that is pulled becomes longer again until it has its full length. So its rest length follows, and
 * within a substep it acts both ways. Were it left out while slack, what carries the cloth across it would be felt a substep
 * late, and the cloth would never come to rest; and on an irregular mesh, whose lines are crooked, cloth under tension would
 * become narrower and longer than its stiffness says.
 *
 * Ours.
 */
export function updateHolds(state: SolverState): void {
  const { positions: x, pairs, pairSum, pairHigh, pairRest, pairHolds, pointTensions } = state;
  pointTensions.fill(0);
  for (let s = 0; s < pairSum.length; s++) {
    if (pairSum[s]! >= INERT) continue;
    const [a, b] = [pairs[2 * s]!, pairs[2 * s + 1]!];
    const dx = x[4 * b]! - x[4 * a]!;
    const dy = x[4 * b + 1]! - x[4 * a + 1]!;
    const dz = x[4 * b + 2]! - x[4 * a + 2]!;
    const strain = (Math.sqrt(dx * dx + dy * dy + dz * dz) - pairRest[s]!) / pairHigh[s]!;
    pointTensions[a] = Math.max(pointTensions[a]!, strain);
    pointTensions[b] = Math.max(pointTensions[b]!, strain);
  }
  for (let s = 0; s < pairSum.length; s++) {
    const tension = Math.max(pointTensions[pairs[2 * s]!]!, pointTensions[pairs[2 * s + 1]!]!);
    pairHolds[s] = HELD_BY_TENSION * tension * pairHigh[s]!;
  }
}

/** Lets a thread slide after a substep, by what it is strained then. @param s - Its slot. @param length - As it is, m. */
export function giveWay(state: SolverState, { h }: FrameNumbers, s: number, length: number): void {
  const { pairLow, pairHigh, pairRest, pairSoftness, pairMultipliers, pairHolds } = state;
  const strained = -pairMultipliers[s]! * length * pairSoftness[s]!;
  const missing = pairHigh[s]! - pairRest[s]!;
  const slid =
    strained > 0 ? Math.max(strained, TAKEN_BACK * h * missing) : Math.min(strained + pairHolds[s]!, 0);
  pairRest[s] = Math.min(pairHigh[s]!, Math.max(pairLow[s]!, pairRest[s]! + slid));
}
