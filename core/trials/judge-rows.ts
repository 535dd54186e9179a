import type { MeasureKey, RecordId } from '../document/index.ts';
import { type CaseRows, summariseRow } from './case-rows.ts';
import type { ResolvedLimits } from './limits.ts';
import { MEASURES } from './measures.ts';

/** A limit that a case breaks. */
export interface Breach {
  measure: MeasureKey;
  limit: number;
  value: number;
  /** Seconds, of the worst frame. */
  time: number;
  garmentId: RecordId;
  garmentName: string;
}

/** Limits that a case breaks, worst first by how many times the value is over its limit. @param limits - Of each garment. */
export function judgeRows(
  { times, garments }: CaseRows,
  limits: ReadonlyMap<RecordId, ResolvedLimits>,
): Breach[] {
  const breaches: Breach[] = [];
  for (const { garmentId, garmentName, rows } of garments) {
    for (const { key: measure } of MEASURES) {
      const limit = limits.get(garmentId)?.[measure] ?? null;
      const found = summariseRow(rows[measure]);
      if (limit === null || !found || found.worst <= Math.fround(limit)) continue;
      breaches.push({
        measure,
        limit,
        value: found.worst,
        time: times[found.frame]!,
        garmentId,
        garmentName,
      });
    }
  }
  return breaches.sort((p, q) => q.value / q.limit - p.value / p.limit);
}
