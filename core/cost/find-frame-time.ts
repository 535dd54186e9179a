import { findLongestChains } from '../run/index.ts';

/**
 * How long several cores take for tasks some of which wait for others, when a core that is free takes the one with the longest chain of others
 * after it: as `CharacterRun` does it. At most twice as long as the best order.
 * Reference: R. L. Graham, *Bounds on multiprocessing timing anomalies*, SIAM J. Appl. Math. 1969.
 *
 * @param costs - Of each task. @param waits - Tasks that each waits for; they come before it.
 */
export function findFrameTime(
  costs: readonly number[],
  waits: readonly (readonly number[])[],
  cores: number,
): number {
  if (cores <= 1) return costs.reduce((sum, cost) => sum + cost, 0);
  const chains = findLongestChains(costs, waits);
  const waiting = costs.map((_, task) => task).sort((p, q) => chains[q]! - chains[p]! || p - q);
  const ends = new Map<number, number>();
  let now = 0;
  while (true) {
    const running = [...ends.values()].filter((end) => end > now);
    const next = waiting.find((task) => waits[task]!.every((other) => (ends.get(other) ?? Infinity) <= now));
    if (next !== undefined && running.length < cores) {
      ends.set(next, now + costs[next]!);
      waiting.splice(waiting.indexOf(next), 1);
      continue;
    }
    if (running.length === 0) return now;
    now = running.reduce((least, end) => Math.min(least, end));
  }
}
