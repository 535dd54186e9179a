import type { MeasureKey, RecordId } from '../document/index.ts';
import { type CaseRows, MEASURES, type ResolvedLimits, summariseRow } from '../trials/index.ts';

/** What one candidate of a search measured. */
export interface SearchScore {
  /** The less the better: 1 is at every limit. */
  score: number;
  /** Worst of each measure of the garment over all runs; of layers, of any garment. */
  worst: Partial<Record<MeasureKey, number>>;
  /** Mean milliseconds of a frame of the whole character, by what its work was priced by. */
  cost: number;
  /** All limits hold, and the budget. */
  passes: boolean;
}

/** What is over a limit counts so many times more. */
const OVER_WEIGHT = 4;

/**
 * How good a candidate is: of each measure that has a limit the worst value over its limit, what is beyond the limit counted five times,
 * mean over the measures. Cost counts only beyond the budget: what is below it is free.
 *
 * Judged is the garment that is searched for; and how far any garment stands out of one over it, which is as much its work.
 *
 * @param limits - Of each garment. @param budget - ms a frame; null for none.
 */
export function scoreRows(
  cases: readonly CaseRows[],
  searchedId: RecordId,
  limits: ReadonlyMap<RecordId, ResolvedLimits>,
  budget: number | null,
): SearchScore {
  const worst: SearchScore['worst'] = {};
  const shares: number[] = [];
  for (const { key } of MEASURES) {
    let share = -1;
    for (const { garments } of cases) {
      for (const { garmentId, rows } of garments) {
        if (garmentId !== searchedId && key !== 'layers') continue;
        const limit = limits.get(garmentId)?.[key] ?? null;
        const own = summariseRow(rows[key]);
        if (own) worst[key] = Math.max(worst[key] ?? 0, own.worst);
        if (limit !== null && limit > 0 && own && key !== 'cost') share = Math.max(share, own.worst / limit);
      }
    }
    if (share >= 0) shares.push(share);
  }
  const count = (value: number): number => value + OVER_WEIGHT * Math.max(0, value - 1);
  const quality = shares.reduce((sum, share) => sum + count(share), 0) / (shares.length || 1);
  const costs = cases.map(({ whole }) => summariseRow(whole.cost)?.mean ?? 0);
  const cost = costs.reduce((sum, each) => sum + each, 0) / (costs.length || 1);
  const over = budget === null ? 0 : Math.max(0, cost / budget - 1);
  return {
    score: quality + OVER_WEIGHT * over,
    worst,
    cost,
    passes: over === 0 && shares.every((share) => share <= 1 + 1e-6),
  };
}
