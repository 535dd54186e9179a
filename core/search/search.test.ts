import { expect } from 'chai';
import { createRandom } from '../math/index.ts';
import { Evolution, type TriedPoint } from './evolution.ts';
import { findFront } from './find-front.ts';
import { haltonPoint } from './halton.ts';
import { proposePoints, type SearchPlan } from './propose-points.ts';

describe('points that fill a cube evenly', () => {
  it('are those of the sequence, and shifted as a whole', () => {
    const zero = [0, 0];
    expect([0, 1, 2, 3].map((n) => haltonPoint(n, zero)[0])).deep.equal([1 / 2, 1 / 4, 3 / 4, 1 / 8]);
    for (const [n, value] of [1 / 3, 2 / 3, 1 / 9, 4 / 9, 7 / 9].entries())
      expect(haltonPoint(n, zero)[1]).closeTo(value, 1e-12);
    expect(haltonPoint(2, [0.5, 0])[0]).closeTo(0.25, 1e-12);
  });

  it('leave smaller holes than random ones', () => {
    const random = createRandom(3);
    const points = Array.from({ length: 128 }, (_, n) => haltonPoint(n, [0.2, 0.7]));
    const others = points.map(() => [random(), random()]);
    const count = (list: number[][]): number => {
      const cells = new Set(list.map(([x, y]) => `${Math.floor(8 * x!)} ${Math.floor(8 * y!)}`));
      return cells.size;
    };
    expect(count(points)).above(60);
    expect(count(others)).below(count(points));
  });
});

const PLAN: SearchPlan = { start: [0.5, 0.5, 0.5, 0.5], runs: 200, seed: 1 };

/** Runs a search to its end. @param at - Generations are cut short to this many points at a time. */
function search(plan: SearchPlan, score: (point: readonly number[]) => number, at = 1000): TriedPoint[] {
  const tried: TriedPoint[] = [];
  for (;;) {
    const points = proposePoints(plan, tried).slice(0, at);
    if (points.length === 0) return tried;
    tried.push(...points.map((point) => ({ point, score: score(point) })));
  }
}

describe('a search', () => {
  const target = [0.83, 0.12, 0.4, 0.66];
  const widths = [1, 0.2, 0.5, 0.05];
  /** A narrow valley: a step too far along one dimension counts for much more than along another. */
  const valley = (point: readonly number[]): number =>
    point.reduce((sum, x, i) => sum + ((x - target[i]!) / widths[i]!) ** 2, 0);

  it('tries where it is first, then evenly, and ends after so many', () => {
    const tried = search(PLAN, valley);
    expect(tried.length).equal(200);
    expect(tried[0]!.point).deep.equal(PLAN.start);
    expect(tried.every(({ point }) => point.every((x) => x >= 0 && x <= 1))).equal(true);
    expect(proposePoints({ ...PLAN, runs: 5 }, []).length).equal(5);
  });

  it('finds the bottom of a narrow valley, from any seed', () => {
    for (const seed of [1, 2, 3, 4, 5]) {
      const best = Math.min(...search({ ...PLAN, seed }, valley).map(({ score }) => score));
      const random = createRandom(seed);
      const shift = target.map(() => random());
      const even = Array.from({ length: 200 }, (_, n) => valley(haltonPoint(n, shift)));
      expect(best, `seed ${seed}`).below(0.15);
      expect(best, `seed ${seed}`).below(Math.min(...even) / 4);
    }
  });

  it('finds a corner as well', () => {
    const best = search(PLAN, (point) => point.reduce((sum, x) => sum + x, 0)).sort(
      (p, q) => p.score - q.score,
    )[0]!;
    expect(Math.max(...best.point)).below(0.08);
  });

  it('goes on as it would have, wherever it was broken off', () => {
    const whole = search(PLAN, valley);
    expect(search(PLAN, valley, 1)).deep.equal(whole);
    expect(search(PLAN, valley, 3)).deep.equal(whole);
    expect(search({ ...PLAN, seed: 2 }, valley)).not.deep.equal(whole);
  });

  it('learns which way the valley runs', () => {
    const random = createRandom(9);
    const normal = (): number => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
    const evolution = new Evolution([{ point: [0.5, 0.5], score: 1e9 }], 0.2);
    const narrow = ([x, y]: readonly number[]): number => ((x! - 0.5) / 10) ** 2 + (y! - 0.5) ** 2;
    for (let generation = 0; generation < 40; generation++)
      evolution.tell(evolution.ask(normal).map((point) => ({ point, score: narrow(point) })));
    const points = Array.from({ length: 20 }, () => evolution.ask(normal)).flat();
    const spread = (k: number): number =>
      Math.sqrt(points.reduce((sum, point) => sum + (point[k]! - 0.5) ** 2, 0) / points.length);
    expect(spread(0) / spread(1)).above(3);
  });
});

describe('the front of candidates', () => {
  it('has those that nothing beats in everything', () => {
    const candidates = [
      [1, 5],
      [2, 2],
      [3, 3],
      [5, 1],
      [5, 1],
      [6, 1],
    ];
    expect(findFront(candidates)).deep.equal([0, 1, 3, 4]);
  });
});
