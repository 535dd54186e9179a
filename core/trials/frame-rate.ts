import { FRAME_RATE } from '../run/index.ts';

/** Frames a second of the game that the cloth runs in; `uneven`: as on a machine that cannot keep up. */
export type TrialRate = 30 | 60 | 120 | 'uneven';

export const TRIAL_RATES: readonly TrialRate[] = [60, 30, 120, 'uneven'];

/** Of a blend so much is measured before it begins (or as much as there is), and after it has ended. */
export const BLEND_BEFORE_SECONDS = 0.5;
export const BLEND_AFTER_SECONDS = 1;

/** Rates of the frames of `uneven`, over and over: mostly 60, with frames that come early, late, and a hitch of 50 ms. */
const UNEVEN_RATES = [60, 60, 40, 90, 60, 30, 120, 60, 60, 20, 90, 60];

/** Seconds of the n-th frame. */
export function getFrameSeconds(rate: TrialRate, frame: number): number {
  return 1 / (rate === 'uneven' ? UNEVEN_RATES[frame % UNEVEN_RATES.length]! : rate);
}

/** How many frames a time takes, at least one. @param seconds - s */
export function countFrames(rate: TrialRate, seconds: number): number {
  if (rate !== 'uneven') return Math.max(1, Math.round(seconds * rate));
  let count = 0;
  for (let time = 0; time < seconds - 0.5 / FRAME_RATE; count++) time += getFrameSeconds(rate, count);
  return Math.max(1, count);
}
