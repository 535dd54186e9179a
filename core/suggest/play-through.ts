import { type CharacterRun, FRAME_RATE } from '../run/index.ts';

/** Seconds that the cloth settles; and a clip that closes is played before for so long, in whole rounds, unless it is longer. */
const SETTLE_SECONDS = 0.3;
const PLAYED_SECONDS = 1;

/** Who is told of what while clips are played. */
export interface PlayHooks {
  /** When all cloth has settled in the first pose. */
  onSettled?(): void;
  /** Before the last time through. */
  onStart?(): void;
  /** After each frame of it. */
  onFrame(): void;
}

/**
 * Settles the cloth of some runs in the first pose of a clip, plays it before where it closes, and then once, with all runs side by side.
 * Yields the share done.
 */
export function* playThrough(
  runs: readonly CharacterRun[],
  clip: number,
  { onFrame, onSettled, onStart }: PlayHooks,
): Generator<number, void> {
  const [first] = runs as [CharacterRun];
  const forEach = (act: (run: CharacterRun) => void): void => {
    for (const run of runs) act(run);
  };
  forEach((run) => run.play(clip));
  const isLoop = first.isClosed();
  forEach((run) => run.reset());
  for (let i = 0; i < SETTLE_SECONDS * FRAME_RATE; i++) forEach((run) => run.step(0));
  onSettled?.();
  const frames = Math.max(1, Math.round(first.duration * FRAME_RATE));
  const rounds = isLoop ? Math.floor((PLAYED_SECONDS * FRAME_RATE) / frames + 0.5) : 0;
  const before = rounds * frames;
  for (let i = 0; i < before; i++) {
    forEach((run) => run.step());
    if (i % frames === frames - 1) forEach((run) => run.seek(0));
    yield (i + 1) / (before + frames);
  }
  onStart?.();
  for (let frame = 0; frame < frames; frame++) {
    forEach((run) => run.step());
    onFrame();
    yield (before + frame + 1) / (before + frames);
  }
}
