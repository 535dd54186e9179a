import { expect } from 'chai';
import { createRandom } from '../math/index.ts';
import { findFrameTime } from './find-frame-time.ts';

/** Tasks of a frame, at random: each waits for some of those before it. */
function createTasks(random: () => number, count: number, share: number) {
  const costs = Array.from({ length: count }, () => 0.1 + random());
  const waits = costs.map((_, task) =>
    Array.from({ length: task }, (_, other) => other).filter(() => random() < share),
  );
  return { costs, waits };
}

/** What has to be done one after the other, whatever the cores: by walking all ways through the tasks. */
function findLongestWay(
  costs: readonly number[],
  waits: readonly (readonly number[])[],
  task: number,
): number {
  return costs[task]! + Math.max(0, ...waits[task]!.map((other) => findLongestWay(costs, waits, other)));
}

/** The best that any order comes to, by trying them all. */
function findBest(costs: readonly number[], waits: readonly (readonly number[])[], cores: number): number {
  let best = Number.POSITIVE_INFINITY;
  const place = (ends: readonly (number | undefined)[], free: readonly number[]): void => {
    if (ends.every((end) => end !== undefined)) best = Math.min(best, Math.max(...(ends as number[])));
    costs.forEach((cost, task) => {
      if (ends[task] !== undefined || waits[task]!.some((other) => ends[other] === undefined)) return;
      for (let core = 0; core < cores; core++) {
        const start = Math.max(free[core]!, 0, ...waits[task]!.map((other) => ends[other]!));
        if (start + cost >= best) continue;
        place(ends.with(task, start + cost), free.with(core, start + cost));
      }
    });
  };
  place(
    costs.map(() => undefined),
    new Array(cores).fill(0),
  );
  return best;
}

describe('the time of a frame on several cores', () => {
  it('is the sum on one, the longest task where none waits and there are enough, and the sum of a chain', () => {
    const costs = [3, 1, 2];
    const none = [[], [], []];
    const chain = [[], [0], [1]];
    expect(findFrameTime(costs, none, 1)).equal(6);
    expect(findFrameTime(costs, none, 2)).equal(3);
    expect(findFrameTime(costs, none, 8)).equal(3);
    expect(findFrameTime(costs, chain, 8)).equal(6);
    // Two that wait for the first go side by side after it.
    expect(findFrameTime([2, 3, 1], [[], [0], [0]], 2)).equal(5);
    expect(findFrameTime([], [], 4)).equal(0);
  });

  it('begins with the longest chain, not with the longest task', () => {
    // A short task that a long one waits for, beside two of middle length.
    expect(findFrameTime([2, 2, 1, 3], [[], [], [], [2]], 2)).equal(4);
  });

  it('is never less than the work or the longest chain allow, and seldom more than the best order', () => {
    const random = createRandom(7);
    let worse = 0;
    for (let round = 0; round < 200; round++) {
      const cores = 2 + (round % 2);
      const { costs, waits } = createTasks(random, 5, 0.1 + 0.5 * random());
      const time = findFrameTime(costs, waits, cores);
      const sum = costs.reduce((all, cost) => all + cost, 0);
      const chain = Math.max(...costs.map((_, task) => findLongestWay(costs, waits, task)));
      expect(time).least(Math.max(sum / cores, chain) - 1e-9);
      const best = findBest(costs, waits, cores);
      expect(time).least(best - 1e-9);
      expect(time).most((2 - 1 / cores) * best + 1e-9);
      if (time > 1.001 * best) worse++;
    }
    expect(worse).lessThan(20);
  });
});
