import { COST_GROUPS, countTargetWork, listTargetGarments } from '../core/budget/index.ts';
import { priceWork, REFERENCE_COSTS } from '../core/cost/index.ts';
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
  const costs = { ...REFERENCE_COSTS };
  for (const { key, units } of COST_GROUPS) for (const unit of units) costs[unit] *= FACTORS[key]!;
  const garments = listTargetGarments();
  const works = finish(countTargetWork(garments));
  const random = createRandom(5);
  const gauss = (): number => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  return table
    .split('\n')
    .map((row) => {
      const g = garments.findIndex(({ spec }) => row.startsWith(`${spec.name},`));
      if (g < 0) return row;
      const { total } = priceWork(works[g]!, { costs, framesPerSecond: 60 });
      const [one, two] = [0, 1].map(() => (total * (1 + 0.05 * gauss())).toFixed(4));
      return row.replace(/,,,$/, `,${one},${two},`);
    })
    .join('\n');
}
