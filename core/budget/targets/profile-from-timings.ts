import type { CostProfile, UnitCosts } from '../../cost/index.ts';
import { fitTarget } from './fit-target.ts';
import { countTargetWork, listTargetGarments } from './target-garments.ts';
import type { Timings } from './timings-csv.ts';

/**
 * What work costs on a target, from times that somebody measured there. Yields the share done.
 *
 * @param base - Of the machine that kinds of work are weighed on within a group. @param measuredAt - ISO date.
 */
export function* profileFromTimings(
  timings: Timings,
  base: UnitCosts,
  measuredAt: string,
): Generator<number, CostProfile> {
  const garments = listTargetGarments().filter(({ spec }) => timings.has(spec.name));
  const works = yield* countTargetWork(garments);
  const { costs, groups, timed } = fitTarget(
    garments.map(({ spec }, g) => ({
      name: spec.name,
      work: works[g]!,
      milliseconds: timings.get(spec.name)!,
    })),
    base,
  );
  return { name: 'Timings', source: 'timings', machine: null, measuredAt, costs, fit: null, groups, timed };
}
