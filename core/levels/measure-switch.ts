import { type Pricing, priceWork } from '../cost/index.ts';
import { FRAME_RATE, type RunSetup, startRun } from '../run/index.ts';
import { JITTER_DELAY } from '../trials/index.ts';
import { DrawnJitter } from './drawn-jitter.ts';

/** How a character goes over from one band to the next. */
export interface SwitchFigures {
  /** Shaking of what is drawn in the worst frame of it, m; and of the same frames at the one band and at the other. */
  jitter: number;
  ownJitter: number;
  /** ms a frame on its mean, and at the one band and the other in the same frames. */
  cost: number;
  costFrom: number;
  costTo: number;
}

/** Shaking that a level adds and nobody sees, m: a fifth of what cloth does by itself, at least a fifth of a millimetre. */
const UNSEEN_SHARE = 0.2;
const UNSEEN_JITTER = 2e-4;

/** Whether going over shows no more than both bands do by themselves. */
export function isSmooth({ jitter, ownJitter }: Pick<SwitchFigures, 'jitter' | 'ownJitter'>): boolean {
  return jitter <= ownJitter + Math.max(UNSEEN_JITTER, UNSEEN_SHARE * ownJitter);
}

export interface SwitchOptions {
  /** By index; null: the bind pose. */
  clip: number | null;
  /** In which it goes over. */
  seconds: number;
  pricing: Pricing;
}

/** Played before, so that the cloth moves as it does. */
const BEFORE_SECONDS = 1;
/** Looked at after it. */
const AFTER_SECONDS = 0.3;
const FRAME_SECONDS = 1 / FRAME_RATE;

/** How many frames are played for it in all, but the first second. @param seconds - In which it goes over. */
export function countSwitchFrames(seconds: number): number {
  return 3 * (Math.max(1, Math.round(seconds * FRAME_RATE)) + Math.round(AFTER_SECONDS * FRAME_RATE));
}

/**
 * Plays a clip three times: at one band, at another, and going over between them. What shows in the third and in neither of the others comes of that.
 * @param from, to - Of the same character, see `setUpLevel`.
 */
export function measureSwitch(from: RunSetup, to: RunSetup, options: SwitchOptions): SwitchFigures {
  const [one, other, both] = [
    playOver(from, from, options),
    playOver(to, to, options),
    playOver(from, to, options),
  ];
  return {
    jitter: both.jitter,
    ownJitter: Math.max(one.jitter, other.jitter),
    cost: both.cost,
    costFrom: one.cost,
    costTo: other.cost,
  };
}

function playOver(
  from: RunSetup,
  to: RunSetup,
  { clip, seconds, pricing }: SwitchOptions,
): Pick<SwitchFigures, 'jitter' | 'cost'> {
  const run = startRun(from);
  run.play(clip);
  run.reset();
  const frames = Math.round(BEFORE_SECONDS * FRAME_RATE);
  const switching = Math.max(1, Math.round(seconds * FRAME_RATE));
  const after = Math.round(AFTER_SECONDS * FRAME_RATE);
  const film = new DrawnJitter(run);
  let [time, jitter, cost] = [0, 0, 0];
  for (let frame = 0; frame < frames + switching + after; frame++) {
    if (frame === frames) {
      run.takeWork();
      if (from !== to) run.switchTo(to, seconds);
    }
    run.step();
    time += FRAME_SECONDS;
    // As many frames before as the measure looks back.
    if (frame >= frames - 2 * JITTER_DELAY) film.note(time);
    if (frame >= frames + JITTER_DELAY) jitter = Math.max(jitter, film.measure() ?? 0);
    if (frame === frames + switching - 1) cost = priceWork(run.takeWork(), pricing).sum;
  }
  return { jitter, cost };
}
