import { type RunTimes, sumTimes } from '../../core/run/index.ts';
import { runTrial } from '../../core/trials/index.ts';
import { setUpDemo } from './demo-setups.ts';

/** What a trial of one clip takes, on one core. */
export interface TrialBench {
  character: string;
  clip: string;
  frames: number;
  /** Of the clip, and that the trial of it took, with what is played before and not measured. */
  seconds: { clip: number; trial: number };
  /** Milliseconds of a measured frame: moving the body, the cloth, and measuring both. */
  perFrame: { body: number; cloth: number; measuring: number };
}

/** Frames are measured so many at least, for times that are steady: short clips several times over. */
const LEAST_FRAMES = 60;

/** Every clip of the demo characters. @param most - Clips of each; all when left out. */
export async function benchTrials(most?: number): Promise<TrialBench[]> {
  const benches: TrialBench[] = [];
  for (const { name, setup } of await setUpDemo())
    for (const [clip, { name: called, duration }] of setup.character.clips.slice(0, most).entries())
      benches.push({ character: name, clip: called, ...timeTrial(setup, clip, duration) });
  return benches;
}

function timeTrial(
  setup: Parameters<typeof runTrial>[0],
  clip: number,
  duration: number,
): Omit<TrialBench, 'character' | 'clip'> {
  const clock = (): number => performance.now();
  let [body, cloth, measured, frames, rounds] = [0, 0, 0, 0, 0];
  const start = clock();
  do {
    // From the first measured frame on: what is played before is not measured.
    let from = 0;
    let count = 0;
    for (const { times } of runTrial(setup, { motion: { kind: 'clip', clip }, clock })) {
      if (count++ === 0) from = clock();
      const { skinning }: RunTimes = times;
      body += skinning;
      cloth += sumTimes(times) - skinning;
    }
    // Frames are told two late: all but the first ones lie within this time.
    measured += (clock() - from) * (count / Math.max(1, count - 1));
    frames += count;
    rounds++;
  } while (frames < LEAST_FRAMES);
  const seconds = (clock() - start) / 1000 / rounds;
  return {
    frames: frames / rounds,
    seconds: { clip: duration, trial: seconds },
    perFrame: {
      body: body / frames,
      cloth: cloth / frames,
      measuring: Math.max(0, measured - body - cloth) / frames,
    },
  };
}

/** One line of the table. */
export function describeTrial({ character, clip, seconds, perFrame }: TrialBench): string {
  const { body, cloth, measuring } = perFrame;
  const times = [body, cloth, measuring, body + cloth + measuring].map((ms) => ms.toFixed(2).padStart(9));
  const speed = `${(seconds.clip / seconds.trial).toFixed(2)}x`.padStart(9);
  return `${`${character}, ${clip}`.padEnd(34)}${times.join('')}${speed}`;
}
