import { expect } from 'chai';
import { sumTimes } from '../../run/index.ts';
import type { TimingClock } from './garment-player.ts';
import { listGarmentSpecs } from './garment-spec.ts';
import { GarmentTimer } from './time-garments.ts';

const SPECS = listGarmentSpecs()
  .filter(({ columns, rows, layers }) => layers === 1 && columns * rows < 260)
  .slice(0, 4);

/** A clock that goes on by a microsecond whenever it is asked: what is timed takes as long as it asks often. */
class StepClock implements TimingClock {
  #time = 0;
  #asked = 0;
  #waited: number | null;
  readonly #stepAt: (asked: number) => number;
  readonly #waitsAt: (asked: number) => number;

  /** @param stepAt - Milliseconds of each step. @param waitsAt - Of those, in which the thread waited; null: it cannot be told. */
  constructor(stepAt: (asked: number) => number, waitsAt: ((asked: number) => number) | null = null) {
    this.#stepAt = stepAt;
    this.#waitsAt = waitsAt ?? (() => 0);
    this.#waited = waitsAt ? 0 : null;
  }

  now(): number {
    this.#asked++;
    this.#time += this.#stepAt(this.#asked) + this.#waitsAt(this.#asked);
    if (this.#waited !== null) this.#waited += this.#waitsAt(this.#asked);
    return this.#time;
  }

  waited(): number | null {
    return this.#waited;
  }
}

function time(clock: TimingClock): { times: number[]; rounds: number } {
  const timer = new GarmentTimer(SPECS, { clock, rounds: 4, frames: 3 });
  let steps = 0;
  let last = 0;
  for (const share of timer.play()) {
    steps++;
    expect(share).within(last, 1);
    last = share;
  }
  const timings = timer.listTimings();
  expect(timings.map(({ work }) => work.frames)).deep.equal(SPECS.map(() => 3));
  return { times: timings.map(({ times }) => sumTimes(times)), rounds: steps / SPECS.length };
}

describe('timing of garments', () => {
  const calm = time(new StepClock(() => 0.001));

  it('takes as many rounds as it is told when nothing disturbs it, and the first that is not counted', () => {
    expect(calm.rounds).equal(5);
    for (const each of calm.times) expect(each).above(0.01);
  });

  it('is not misled by single moments that take long', () => {
    const { times } = time(new StepClock((asked) => (asked % 4001 === 0 ? 2 : 0.001)));
    times.forEach((each, g) => {
      expect(each).closeTo(calm.times[g]!, 0.02 * calm.times[g]!);
    });
  });

  it('takes out the time in which the thread waited, where that can be told', () => {
    const waitsAt = (asked: number): number => (asked % 5 === 0 ? 0.004 : 0);
    const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);
    const told = sum(time(new StepClock(() => 0.001, waitsAt)).times) / sum(calm.times);
    const untold = sum(time(new StepClock((asked) => 0.001 + waitsAt(asked))).times) / sum(calm.times);
    expect(untold).within(1.6, 2);
    expect(told).within(0.85, 1.15);
  });

  it('goes by the speed that the machine mostly has, not by that of phases in which it is faster or slower', () => {
    for (const speed of [0.5, 2]) {
      // A fifth of the time, for some garments at a stretch.
      const { times } = time(new StepClock((asked) => (asked % 9000 < 1800 ? speed * 0.001 : 0.001)));
      times.forEach((each, g) => {
        expect(each / calm.times[g]!).within(0.93, 1.07);
      });
    }
  });

  it('plays again what it is asked to, and knows more then', () => {
    const timer = new GarmentTimer(SPECS, { clock: new StepClock(() => 0.001), rounds: 2, frames: 2 });
    for (const _ of timer.play());
    const before = timer.listTimings();
    expect([...timer.playAgain([0, 3])].length).equal(4);
    timer.listTimings().forEach(({ times, work }, g) => {
      expect(sumTimes(times)).closeTo(sumTimes(before[g]!.times), 1e-6);
      expect(work).deep.equal(before[g]!.work);
    });
  });
});
