import { NO_TIMES, type SolverTimes } from '../cloth/index.ts';

/** Milliseconds, by what spent them. */
export interface RunTimes extends SolverTimes {
  /** Pose, skin matrices, targets, and render vertices. */
  skinning: number;
}

export const NO_RUN_TIMES: Readonly<RunTimes> = { ...NO_TIMES, skinning: 0 };

/** Milliseconds of several garments, part by part. */
export function sumTimes(times: object): number {
  return Object.values(times as Record<string, number>).reduce((sum, value) => sum + value, 0);
}

/** The same times some share. */
export function scaleTimes(times: RunTimes, share: number): RunTimes {
  return Object.fromEntries(
    Object.entries(times).map(([part, time]) => [part, time * share]),
  ) as unknown as RunTimes;
}

/** Adds milliseconds of a solver to others. */
export function addTimes(to: RunTimes, times: SolverTimes): void {
  for (const part of Object.keys(times) as (keyof SolverTimes)[]) to[part] += times[part];
}
