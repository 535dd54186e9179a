import type { FrameHelpers } from '../cloth/index.ts';
import { type CharacterRun, FRAME_RATE } from './character-run.ts';
import { stepGarments } from './step-garments.ts';

/**
 * Advances several runs by one frame of the usual length, their garments side by side on this thread and others; to the same bytes as one after the other.
 *
 * @param runs - All made with these helpers. @param speed - See `CharacterRun.step`.
 * @throws {Error} When a thread failed.
 */
export function stepTogether(
  runs: readonly CharacterRun[],
  speed: number,
  helpers: FrameHelpers | undefined,
): void {
  const seconds = 1 / FRAME_RATE;
  stepGarments(
    runs.flatMap((run) => run.beginFrame(speed, seconds)),
    helpers,
  );
  for (const run of runs) run.endFrame(seconds);
}
