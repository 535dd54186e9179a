import { NO_RUN_TIMES, type RunTimes } from '../../run/index.ts';
import type { FrameTime } from './garment-player.ts';

/** Of each garment so many calm rounds must agree, to within this share of the quickest. */
const AGREEING = 3;
const AGREE = 0.06;
/** A round is calm while the pace is what it is most often, within this share: a machine may run at several speeds. */
const CALM = 0.07;
/** Of those rounds so many are quicker than what is told of a frame: what disturbs only ever slows down. */
const QUICK = 0.33;

/** One garment in one round. */
export interface Played {
  frames: readonly FrameTime[];
  /** ms of the garment of the pace, before and after. */
  paces: readonly [number, number];
}

/** ms of some frames together. */
export function sumFrames(frames: readonly FrameTime[]): number {
  return frames.reduce((sum, { own }) => sum + own, 0);
}

/** How far a round was from the usual pace, as a share of it. */
const strayFrom = (usual: number, { paces }: Played): number =>
  Math.max(...paces.map((pace) => Math.abs(pace / usual - 1)));

/** The pace that most others are near: the quickest of several. */
export function findUsual(paces: readonly number[]): number {
  let usual = 0;
  let most = 0;
  for (const pace of paces.toSorted((p, q) => p - q)) {
    const near = paces.filter((other) => Math.abs(other / pace - 1) <= CALM).length;
    if (near <= most) continue;
    most = near;
    usual = pace;
  }
  return usual;
}

/** Rounds at the usual pace, at least as many as must agree: the nearest to it. */
function listCalm(rounds: readonly Played[], usual: number): Played[] {
  const byStray = rounds.toSorted((p, q) => strayFrom(usual, p) - strayFrom(usual, q));
  return byStray.filter((round, r) => r < AGREEING || strayFrom(usual, round) <= CALM);
}

/** Whether enough rounds of a garment were calm, and took the same. @param usual - See `findUsual`. */
export function doAgree(rounds: readonly Played[], usual: number): boolean {
  const calm = listCalm(rounds, usual).filter((round) => strayFrom(usual, round) <= CALM);
  const sums = calm.map(({ frames }) => sumFrames(frames)).sort((p, q) => p - q);
  return sums.length >= AGREEING && sums[AGREEING - 1]! <= (1 + AGREE) * sums[0]!;
}

/** The mean over the frames of what each took in a quick one of the calm rounds, its parts as they were together. */
export function averageCalm(rounds: readonly Played[], usual: number): RunTimes {
  const calm = listCalm(rounds, usual);
  const mean = { ...NO_RUN_TIMES };
  const frameCount = calm[0]!.frames.length;
  for (let f = 0; f < frameCount; f++) {
    const sorted = calm.map(({ frames }) => frames[f]!).sort((p, q) => p.own - q.own);
    const { times } = sorted[Math.floor(QUICK * (sorted.length - 1))]!;
    for (const part of Object.keys(mean) as (keyof RunTimes)[]) mean[part] += times[part] / frameCount;
  }
  return mean;
}
