import { countTargetWork, listTargetGarments } from '../core/budget/index.ts';
import { makeUpTimes, scaleByGroup } from '../core/budget/targets/test-timings.ts';
import { createRandom } from '../core/math/index.ts';
import { finish } from '../server/work/jobs/finish.ts';

/** A machine that takes so many times what the reference machine does. */
export const FACTORS: Readonly<Record<string, number>> = {
  stretch: 2.4,
  bend: 1.7,
  reach: 2,
  bodies: 3.1,
  self: 1.2,
  layers: 2.2,
  skinning: 0.6,
};

/** A table of timings filled in with what that machine takes, twice each, off by 5 % each time. */
export function fillTimings(table: string): string {
  const costs = scaleByGroup(FACTORS);
  const garments = listTargetGarments();
  const works = finish(countTargetWork(garments));
  const random = createRandom(5);
  return table
    .split('\n')
    .map((row) => {
      const g = garments.findIndex(({ spec }) => row.startsWith(`${spec.name},`));
      if (g < 0) return row;
      const times = makeUpTimes(works[g]!, costs, { noise: 0.05, count: 2, random });
      return row.replace(/,,,$/, `,${times.map((time) => time.toFixed(4)).join()},`);
    })
    .join('\n');
}
