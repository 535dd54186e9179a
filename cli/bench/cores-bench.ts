import { FrameHelpers } from '../../core/cloth/index.ts';
import { findFrameTime, listWaits } from '../../core/cost/index.ts';
import { type CharacterRun, type RunSetup, startRun } from '../../core/run/index.ts';
import { createFrameHelpers } from '../../server/work/start-frame-helpers.ts';
import { setUpDemo } from './demo-setups.ts';
import { type Spread, summarise } from './measure.ts';

/** What garments side by side take on several cores, of what they take on one. */
export interface CoresBench {
  character: string;
  cores: number;
  /** ms a frame of the cloth alone, by the clock: on one core, and on all of them. */
  one: number;
  several: number;
  /** Shares of the time on one core: by the clock, with its spread; and by the rule that costs go by. */
  measured: Spread;
  predicted: number;
  /** Every garment came to the same bytes. */
  isSame: boolean;
}

/** Frames of a round; of rounds the medians count. */
const FRAMES = 30;
/** Threads are there when so long has passed, ms. */
const START = 5000;

/** Both demo characters as they are, and with their garments clear of each other. @param rounds - Played in turn on one core and on several. */
export async function benchCores(cores: number, rounds: number): Promise<CoresBench[]> {
  const { helpers, close } = createFrameHelpers(cores - 1);
  // Both on shared memory: code that meets two kinds of memory in one process is slower on both.
  const nobody = new FrameHelpers(0, () => () => {});
  const benches: CoresBench[] = [];
  for (const { name, setup: authored } of await setUpDemo())
    for (const [label, setup] of [
      [name, authored],
      [`${name}, garments clear of each other`, clearAll(authored)],
    ] as const) {
      const [one, several] = [nobody, helpers].map((each) => startRun(setup, { clock, helpers: each })) as [
        CharacterRun,
        CharacterRun,
      ];
      for (const run of [one, several]) {
        run.play(0);
        run.reset();
        playRound(run);
      }
      const started = clock();
      while (helpers.readyCount < 1 && isSideBySide(one) && clock() - started < START)
        await new Promise((resolve) => setTimeout(resolve, 50));
      playRound(several);
      playRound(one);
      const pairs = Array.from({ length: rounds }, () => [playRound(one), playRound(several)] as const);
      const spent = setup.garments.map(
        (_, g) => summarise(pairs.map(([{ garments }]) => garments[g]!)).median,
      );
      benches.push({
        character: label,
        cores,
        one: summarise(pairs.map(([{ cloth }]) => cloth)).median,
        several: summarise(pairs.map(([, { cloth }]) => cloth)).median,
        measured: summarise(pairs.map(([before, after]) => after.cloth / before.cloth)),
        predicted:
          findFrameTime(spent, listWaits(one.takeWork().garments), cores) /
          spent.reduce((sum, time) => sum + time, 0),
        isSame: one.garments.every(({ simulated }, g) =>
          simulated.every((value, i) => value === several.garments[g]!.simulated[i]),
        ),
      });
    }
  await close();
  return benches;
}

const clock = (): number => performance.now();

/** Whether garments can be side by side at all. */
function isSideBySide(run: CharacterRun): boolean {
  return run.garments.some(({ waitsFor }, g) => waitsFor.length < g);
}

/** ms of a round: of the cloth by the clock, without moving the body; and what each garment took by itself. */
function playRound(run: CharacterRun): { cloth: number; garments: number[] } {
  run.takeTimes();
  const start = clock();
  for (let frame = 0; frame < FRAMES; frame++) run.step();
  const spent = clock() - start;
  const { total, garments } = run.takeTimes();
  return { cloth: (spent - total.skinning) / FRAMES, garments: garments.map((time) => time / FRAMES) };
}

function clearAll(setup: RunSetup): RunSetup {
  const ids = setup.garments.map(({ id }) => id);
  return { ...setup, garments: setup.garments.map((garment) => ({ ...garment, clearOf: ids })) };
}

/** One line of the table. */
export function describeCores({ character, one, several, measured, predicted, isSame }: CoresBench): string {
  const times = [one, several].map((ms) => ms.toFixed(2).padStart(9)).join('');
  const share = `${measured.median.toFixed(2)} (${measured.low.toFixed(2)} to ${measured.high.toFixed(2)})`;
  return `${character.padEnd(44)}${times}${share.padStart(22)}${predicted.toFixed(2).padStart(10)}${(isSame ? 'yes' : 'NO').padStart(7)}`;
}
