import { priceWork, REFERENCE_COSTS, type UnitCosts } from '../../cost/index.ts';
import type { RunWork } from '../../run/index.ts';
import { COST_GROUPS } from './cost-groups.ts';

/** Unit costs of a machine that takes so many times what the reference machine does, by kind of work. */
export function scaleByGroup(factors: Readonly<Record<string, number>>): UnitCosts {
  const costs = { ...REFERENCE_COSTS };
  for (const { key, units } of COST_GROUPS) for (const unit of units) costs[unit] *= factors[key]!;
  return costs;
}

/** What such a machine is measured to take for some work, ms a frame: as often as asked, each time off by noise of its own. */
export function makeUpTimes(
  work: RunWork,
  costs: UnitCosts,
  { noise, count, random }: { noise: number; count: number; random: () => number },
): number[] {
  const { total } = priceWork(work, { costs, framesPerSecond: 60 });
  const gauss = (): number => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  return Array.from({ length: count }, () => total * (1 + noise * gauss()));
}
