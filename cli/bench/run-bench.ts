import { createClothRunner, type Runner } from './cloth-runner.ts';
import { createLibraryRunner, type Library } from './library-runner.ts';
import { readCpu, type Spread, summarise } from './measure.ts';
import { BENCH_SUBSTEPS, createSkirt } from './skirt.ts';

export interface BenchRun {
  vertices: number;
  substeps: number;
  microsecondsPerFrame: Record<Contestant, number>;
  /** How many times as long the others take. */
  ratio: Record<Rival, number>;
  /** Where the middle half of the ratios lies. */
  spread: Record<Rival, [low: number, high: number]>;
}

export type Contestant = 'kernel' | Rival;
export type Rival = 'plain' | 'library' | 'librarySimd';
export const RIVALS: readonly Rival[] = ['plain', 'library', 'librarySimd'];

export interface BenchLength {
  warmUpFrames: number;
  /** Rounds in which every contestant runs so many frames, one contestant after the other. */
  rounds: number;
  framesPerRound: number;
}

export const WHOLE: BenchLength = { warmUpFrames: 120, rounds: 25, framesPerRound: 12 };
export const QUICK: BenchLength = { warmUpFrames: 40, rounds: 9, framesPerRound: 6 };

/** Points around and down; 1,024, 2,025 and 4,096 vertices. */
export const SIDES = [32, 45, 64] as const;

/** All contestants on a skirt of side² vertices, interleaved in this process. */
export function benchSkirt(
  side: number,
  libraries: Record<'scalar' | 'simd', Library>,
  length: BenchLength,
): BenchRun {
  const character = createSkirt(side);
  const runners: Record<Contestant, Runner> = {
    kernel: createClothRunner(character, 'kernel'),
    plain: createClothRunner(character, 'plain'),
    library: createLibraryRunner(libraries.scalar, character, side),
    librarySimd: createLibraryRunner(libraries.simd, character, side),
  };
  const times = interleave(runners, length);
  const ratios = (rival: Rival): Spread =>
    summarise(times[rival].map((time, round) => time / times.kernel[round]!));
  const spreads = Object.fromEntries(RIVALS.map((rival) => [rival, ratios(rival)])) as Record<Rival, Spread>;
  const mapRivals = <T>(map: (spread: Spread) => T): Record<Rival, T> =>
    Object.fromEntries(RIVALS.map((rival) => [rival, map(spreads[rival])])) as Record<Rival, T>;
  return {
    vertices: side * side,
    substeps: BENCH_SUBSTEPS,
    microsecondsPerFrame: Object.fromEntries(
      Object.entries(times).map(([name, each]) => [name, round(summarise(each).median, 1)]),
    ) as Record<Contestant, number>,
    ratio: mapRivals(({ median }) => round(median, 2)),
    spread: mapRivals(({ low, high }) => [round(low, 2), round(high, 2)]),
  };
}

/** Microseconds a frame of each runner in each round. */
export function interleave<Name extends string>(
  runners: Record<Name, Runner>,
  { warmUpFrames, rounds, framesPerRound }: BenchLength,
): Record<Name, number[]> {
  const names = Object.keys(runners) as Name[];
  const times = Object.fromEntries(names.map((name) => [name, [] as number[]])) as Record<Name, number[]>;
  for (const name of names) {
    for (let frame = 1; frame <= warmUpFrames; frame++) runFrame(runners[name], frame);
  }
  for (let r = 0; r < rounds; r++) {
    for (const name of names) {
      let spent = 0;
      for (let f = 0; f < framesPerRound; f++) {
        spent += runFrame(runners[name], warmUpFrames + r * framesPerRound + f + 1);
      }
      times[name].push(spent / framesPerRound);
    }
  }
  return times;
}

function runFrame(runner: Runner, frame: number): number {
  runner.prepare(frame);
  const start = readCpu();
  runner.step();
  return readCpu() - start;
}

function round(value: number, digits: number): number {
  return Number(value.toFixed(digits));
}
