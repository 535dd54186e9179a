import type { CaseRows } from './case-rows.ts';
import { findWorstFrame } from './case-rows.ts';
import { MEASURE_KEYS } from './measures.ts';
import type { GarmentFrame, MeasuredValues, TrialFrame } from './trial-frame.ts';

/** A frame without what it took by part, and what was done in it: kept as rows. */
export type CaseFrame = Omit<TrialFrame, 'times' | 'garmentTimes' | 'work'>;

/** The frames of a case that was kept as rows. Where a measure is worst is known of the worst frame of each garment only. */
export function toFrames({ times, whole, garments }: CaseRows): CaseFrame[] {
  const worstFrames = garments.map(({ rows }) =>
    Object.fromEntries(MEASURE_KEYS.map((key) => [key, findWorstFrame(rows[key])])),
  );
  const read = (rows: CaseRows['whole'], frame: number): MeasuredValues =>
    Object.fromEntries(
      MEASURE_KEYS.map((key) => [key, Number.isNaN(rows[key][frame]!) ? null : rows[key][frame]!]),
    ) as unknown as MeasuredValues;
  return Array.from(times, (time, frame) => ({
    time,
    ...read(whole, frame),
    garments: garments.map(({ garmentId, rows, places }, g): GarmentFrame => {
      const here = MEASURE_KEYS.filter((key) => worstFrames[g]![key] === frame && places[key]);
      return {
        garmentId,
        ...read(rows, frame),
        places: Object.fromEntries(here.map((key) => [key, places[key]!])),
      };
    }),
  }));
}
