import { createRandom } from '../../math/index.ts';
import type { RunTimes, RunWork } from '../../run/index.ts';
import { averageCalm, doAgree, findUsual, type Played, sumFrames } from './calm-rounds.ts';
import { GarmentPlayer, type TimingClock } from './garment-player.ts';
import { type GarmentSpec, listGarmentSpecs } from './garment-spec.ts';

/** What one garment did in a round, and what a frame of it took. */
export interface GarmentTiming {
  spec: GarmentSpec;
  work: RunWork;
  /** ms a frame, by what the time was booked on, see `SOLVER_WORK`. */
  times: RunTimes;
}

export interface TimeOptions {
  clock: TimingClock;
  /** Rounds that all garments are played in. */
  rounds?: number;
  frames?: number;
}

const ROUNDS = 6;
const FRAMES = 16;
/** Garments whose rounds do not agree are played again, for so many times as many rounds in all. */
const MOST_ROUNDS = 2;
/** A small garment is played before and after each, to tell how fast the machine is just then. */
const PACE: GarmentSpec = { ...listGarmentSpecs()[0]!, name: 'pace', capsules: 4, otherJoints: 40 };
const PACE_FRAMES = 6;

/**
 * Plays the same frames of each garment round after round, all garments in each round, in another order each time. Rounds in which the
 * machine ran at another speed than mostly do not count; a garment whose other rounds do not agree is played again. What is told of a
 * frame is that of a quick one of the rounds that count.
 */
export class GarmentTimer {
  readonly #specs: readonly GarmentSpec[];
  readonly #rounds: number;
  readonly #players: readonly GarmentPlayer[];
  readonly #pace: GarmentPlayer;
  readonly #paces: number[] = [];
  /** By garment and round. */
  readonly #played: Played[][];
  readonly #works: RunWork[] = [];
  readonly #random: () => number;

  constructor(specs: readonly GarmentSpec[], { clock, rounds = ROUNDS, frames = FRAMES }: TimeOptions) {
    this.#specs = specs;
    this.#rounds = rounds;
    this.#players = specs.map((spec) => new GarmentPlayer(spec, frames, clock));
    this.#pace = new GarmentPlayer(PACE, PACE_FRAMES, clock);
    this.#played = specs.map(() => []);
    this.#random = createRandom(rounds);
  }

  /** Plays all garments until their rounds agree. Yields the share done. */
  *play(): Generator<number, void> {
    const all = this.#specs.map((_, g) => g);
    // The first round compiles what there is to compile.
    for (const share of this.#playRound(all, false)) yield share / (this.#rounds + 2);
    for (let round = 1; round <= MOST_ROUNDS * this.#rounds; round++) {
      const usual = findUsual(this.#paces);
      const due = all.filter((g) => round <= this.#rounds || !doAgree(this.#played[g]!, usual));
      if (due.length === 0) return;
      for (const share of this.#playRound(due, true)) yield Math.min(1, (round + share) / (this.#rounds + 2));
    }
  }

  /** Plays some garments as often again. Yields the share done. */
  *playAgain(garments: readonly number[]): Generator<number, void> {
    for (let round = 0; round < this.#rounds; round++)
      for (const share of this.#playRound(garments, true)) yield (round + share) / this.#rounds;
  }

  /** What is known now. */
  listTimings(): GarmentTiming[] {
    const usual = findUsual(this.#paces);
    return this.#specs.map((spec, g) => ({
      spec,
      work: this.#works[g]!,
      times: averageCalm(this.#played[g]!, usual),
    }));
  }

  *#playRound(garments: readonly number[], isCounted: boolean): Generator<number, void> {
    let before = this.#readPace();
    for (const [done, index] of shuffle(garments.length, this.#random).entries()) {
      const g = garments[index]!;
      const { work, frames } = this.#players[g]!.play();
      const after = this.#readPace();
      this.#works[g] = work;
      if (isCounted) {
        this.#played[g]!.push({ frames, paces: [before, after] });
        this.#paces.push(after);
      }
      before = after;
      yield (done + 1) / garments.length;
    }
  }

  #readPace(): number {
    return sumFrames(this.#pace.play().frames);
  }
}

/** Numbers up to a count in another order each time: what comes again and again then disturbs nobody more than others. */
function shuffle(count: number, random: () => number): number[] {
  const order = Array.from({ length: count }, (_, i) => i);
  for (let i = count - 1; i > 0; i--) {
    const j = Math.floor((i + 1) * random());
    [order[i], order[j]] = [order[j]!, order[i]!];
  }
  return order;
}
