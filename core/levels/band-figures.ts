import type { Pricing } from '../cost/index.ts';
import type { MeasureKey, RecordId } from '../document/index.ts';
import { percentile } from '../math/index.ts';
import { type CaseRows, MEASURES, priceRows, summariseRow } from '../trials/index.ts';
import type { SwitchFigures } from './measure-switch.ts';

/** What frames cost, ms: on their mean, 95 of 100, and the worst. */
export interface FrameCosts {
  mean: number;
  p95: number;
  worst: number;
}

/** What was measured with something at a level. */
export interface LevelFigures {
  cost: FrameCosts;
  /** Worst frame of each measure. */
  worst: Partial<Record<MeasureKey, number>>;
}

/** What was measured with all garments at the levels of a band. */
export interface BandFigures extends LevelFigures {
  /** ms a frame on their mean, of all cores together; left out when it was measured before that was told: then it is the cost. */
  work?: number;
  garments: (LevelFigures & { garmentId: RecordId })[];
  /** From the band before; null of the nearest. */
  switchTo: SwitchFigures | null;
  /** Levels whose mesh could not be made, in words: they were played on the garment's own. */
  faults: readonly string[];
}

/** Figures of all cases together. @param rows - Of each case; of one garment, or of all. */
export function summariseLevel(rows: readonly CaseRows['whole'][]): LevelFigures {
  const costs = rows.flatMap(({ cost }) => [...cost].filter((value) => !Number.isNaN(value)));
  const worst: LevelFigures['worst'] = {};
  for (const { key } of MEASURES)
    for (const row of rows) {
      const found = summariseRow(row[key]);
      if (found) worst[key] = Math.max(worst[key] ?? 0, found.worst);
    }
  return {
    cost: {
      mean: costs.reduce((sum, value) => sum + value, 0) / Math.max(1, costs.length),
      p95: percentile(costs, 0.95),
      worst: costs.reduce((most, value) => Math.max(most, value), 0),
    },
    worst,
  };
}

/** Figures of a band from the cases that were played at it. @param pricing - That they were priced by. */
export function summariseBand(
  cases: readonly CaseRows[],
  pricing: Pricing,
  { switchTo, faults }: Pick<BandFigures, 'switchTo' | 'faults'>,
): BandFigures {
  const figures = summariseLevel(cases.map(({ whole }) => whole));
  const isByOneCore = (pricing.cores ?? 1) <= 1;
  const byOneCore = isByOneCore ? [] : cases.map((rows) => priceRows(rows, { ...pricing, cores: 1 }).whole);
  return {
    ...figures,
    work: isByOneCore ? figures.cost.mean : summariseLevel(byOneCore).cost.mean,
    garments: (cases[0]?.garments ?? []).map(({ garmentId }, g) => ({
      garmentId,
      ...summariseLevel(cases.map(({ garments }) => garments[g]!.rows)),
    })),
    switchTo,
    faults,
  };
}
