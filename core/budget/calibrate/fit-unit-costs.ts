import { type FitError, priceWork, type UnitCosts } from '../../cost/index.ts';
import { solveNonNegative } from '../../math/index.ts';
import {
  addCounts,
  createWorkCounts,
  FRAME_RATE,
  type RunTimes,
  type RunWork,
  sumTimes,
  WORK,
  WORK_UNITS,
  type WorkCounts,
} from '../../run/index.ts';
import type { GarmentTiming } from './time-garments.ts';

/** A part that takes less than this share of a garment's time counts as if it took so much: its own noise says nothing. */
const LEAST_SHARE = 0.03;

/**
 * Unit costs, ns, from what garments did and what each part of it took: non-negative least squares on relative errors, each part of
 * each garment an equation.
 */
export function fitUnitCosts(timings: readonly Omit<GarmentTiming, 'spec'>[]): UnitCosts {
  const rows: number[][] = [];
  const right: number[] = [];
  for (const { work, times } of timings) {
    const counts = sumCounts(work);
    const total = sumTimes(times);
    for (const part of Object.keys(times) as (keyof RunTimes)[]) {
      const row = new Map<string, number>();
      for (const kind of WORK) {
        const timedIn = 'timedIn' in kind ? kind.timedIn : kind.part;
        if (timedIn === part) row.set(kind.unit, (row.get(kind.unit) ?? 0) + counts[kind.key] / work.frames);
      }
      const weight = 1 / (times[part] + LEAST_SHARE * total);
      rows.push(WORK_UNITS.map((unit) => 1e-6 * weight * (row.get(unit) ?? 0)));
      right.push(weight * times[part]);
    }
  }
  const costs = solveNonNegative(Float64Array.from(rows.flat()), Float64Array.from(right));
  return Object.fromEntries(WORK_UNITS.map((unit, u) => [unit, costs[u]!])) as UnitCosts;
}

/** What unit costs predict of garments, against what was measured. */
export function measureFit(timings: readonly GarmentTiming[], costs: UnitCosts): FitError[] {
  return timings.map(({ spec, work, times }) => ({
    name: spec.name,
    predicted: priceWork(work, { costs, framesPerSecond: FRAME_RATE }).total,
    measured: sumTimes(times),
  }));
}

/** All that a run did, over its garments. */
export function sumCounts({ joints, garments }: RunWork): WorkCounts {
  const sum = createWorkCounts();
  for (const { counts } of garments) addCounts(sum, counts);
  sum.joints += joints;
  return sum;
}
