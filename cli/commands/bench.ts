import { parseArgs } from 'node:util';
import { benchBrush } from '../bench/brush-bench.ts';
import { benchCores, describeCores } from '../bench/cores-bench.ts';
import { loadLibrary } from '../bench/library-runner.ts';
import { type BenchRun, benchSkirt, QUICK, RIVALS, SIDES, WHOLE } from '../bench/run-bench.ts';
import { benchSelfCollision, benchThreeGarments } from '../bench/side-benches.ts';
import { BENCH_BODIES, BENCH_SUBSTEPS } from '../bench/skirt.ts';
import { benchTrials, describeTrial } from '../bench/trial-bench.ts';
import type { Command } from '../command.ts';
import { readThreads } from '../measure-all.ts';

const LABELS = { plain: 'plain', library: 'library', librarySimd: 'library SIMD' } as const;

export const command: Command = {
  summary: 'measure the cloth solver and the brush',
  usage: `Usage: ./cobweb bench [--quick] [--json]
       ./cobweb bench --trials [--quick] [--json]
       ./cobweb bench --cores N [--quick] [--json]

Times the cloth kernel on a skirt with ${BENCH_BODIES} moving bodies and ${BENCH_SUBSTEPS} substeps, against the same in plain
TypeScript and against a general-purpose physics library's soft body in its scalar and SIMD builds: in one process,
interleaved, by CPU time. Prints microseconds a frame, ratios, and where the middle half of the ratios lies. Then times a dab
of the brush on 100,000 vertices, from the ray under the cursor to the values that the solver has.

With --trials it times a trial of every clip of the demo characters instead, on one core: milliseconds of a measured frame
by part, and how many times as fast as it plays the clip is measured, with what is played before.

With --cores it plays the demo characters on one thread and on N side by side, as they are and with their garments clear of
each other: milliseconds a frame of the cloth by the clock, what share of one core's time several take, what share the cost
of a target with so many cores goes by, and whether every garment came to the same bytes (exit code 1 when not).

  --quick   fewer frames, or one clip of each character; under 40 seconds
  --json    prints one JSON object instead of the table`,
  run: async (args) => {
    const { values } = parseArgs({
      args,
      options: {
        quick: { type: 'boolean' },
        json: { type: 'boolean' },
        trials: { type: 'boolean' },
        cores: { type: 'string' },
      },
    });
    if (values.cores !== undefined)
      return runCoresBench(readThreads(values.cores, '--cores'), values.quick ? 7 : 25, values.json === true);
    if (values.trials) return runTrialBench(values.quick ? 1 : undefined, values.json === true);
    const length = values.quick ? QUICK : WHOLE;
    const libraries = { scalar: await loadLibrary('scalar'), simd: await loadLibrary('simd') };
    const say = values.json ? () => {} : (line: string) => console.log(line);
    say(`${BENCH_SUBSTEPS} substeps, ${BENCH_BODIES} bodies, µs a frame (CPU)`);
    say(`${'vertices'.padStart(8)} ${'kernel'.padStart(8)} ${RIVALS.map(describeHead).join(' ')}`);
    const runs: BenchRun[] = [];
    for (const side of SIDES) {
      const run = benchSkirt(side, libraries, length);
      runs.push(run);
      say(describeRun(run));
    }
    const selfCollision = benchSelfCollision(SIDES[1], length);
    say(
      `self-collision adds ${selfCollision.ratio}x the cost of the rest, at ${selfCollision.vertices} vertices`,
    );
    const threeGarments = benchThreeGarments(values.quick ? 120 : 600);
    say(
      `three garments, ${threeGarments.vertices} vertices in all: ${threeGarments.framesPerSecond} simulated frames a ` +
        `second on one core (${threeGarments.needed} are needed)`,
    );
    const brush = benchBrush();
    say(
      `a dab of the brush on ${brush.vertices} vertices, the solver told: ${brush.median} ms, 19 of 20 under ${brush.slow} ms ` +
        `(${Math.round(100 * brush.shareOfFrame)} % of a frame)`,
    );
    if (values.json) console.log(JSON.stringify({ runs, selfCollision, threeGarments, brush }));
    // The library's threads would keep the process.
    setImmediate(() => process.exit(0));
    return 0;
  },
};

/** @param most - Clips of each character. */
async function runTrialBench(most: number | undefined, isJson: boolean): Promise<number> {
  const benches = await benchTrials(most);
  if (isJson) {
    console.log(JSON.stringify({ trials: benches }));
    return 0;
  }
  const heads = ['body', 'cloth', 'measure', 'ms/frame', 'speed'].map((head) => head.padStart(9));
  console.log(`${''.padEnd(34)}${heads.join('')}`);
  for (const bench of benches) console.log(describeTrial(bench));
  return 0;
}

async function runCoresBench(cores: number, rounds: number, isJson: boolean): Promise<number> {
  const benches = await benchCores(cores, rounds);
  if (isJson) console.log(JSON.stringify({ cores: benches }));
  else {
    const heads = ['one core', `${cores} cores`].map((head) => head.padStart(9)).join('');
    console.log(
      `${''.padEnd(44)}${heads}${'share of one'.padStart(22)}${'told'.padStart(10)}${'same'.padStart(7)}`,
    );
    for (const bench of benches) console.log(describeCores(bench));
  }
  return benches.every(({ isSame }) => isSame) ? 0 : 1;
}

function describeHead(rival: keyof typeof LABELS): string {
  return LABELS[rival].padStart(30);
}

function describeRun({ vertices, microsecondsPerFrame, ratio, spread }: BenchRun): string {
  const rivals = RIVALS.map((rival) => {
    const [low, high] = spread[rival];
    const times = `${ratio[rival].toFixed(2)}x (${low.toFixed(2)} to ${high.toFixed(2)})`;
    return `${microsecondsPerFrame[rival].toFixed(0)} ${times}`.padStart(30);
  });
  return `${String(vertices).padStart(8)} ${microsecondsPerFrame.kernel.toFixed(0).padStart(8)} ${rivals.join(' ')}`;
}
