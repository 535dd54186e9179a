import type { MeasureKey, RecordId } from '../document/index.ts';
import { type CaseRows, MEASURES, type ResolvedLimits, summariseRow } from '../trials/index.ts';

/** What an asset measured over some cases, in the units of the measures. */
export interface AssetFigures {
  /** ms a frame on the mean of all cases. */
  cost: number;
  /** Worst frame of each measure, over all garments and cases. */
  worst: Partial<Record<MeasureKey, number>>;
  /** m², on the mean of all frames. */
  showThrough: number;
  /** The worst of each garment, as limits are told by garment. */
  garments: GarmentFigures[];
}

interface GarmentFigures {
  garmentId: RecordId;
  worst: Partial<Record<MeasureKey, number>>;
  /** As bad as it gets when next to nothing is changed: contacts are so touchy that a worst frame scatters by itself. */
  scattered?: Partial<Record<MeasureKey, number>>;
}

/** What a change, or several, do. */
export interface JudgedChange {
  /** ms a frame less. */
  saves: number;
  /** How much worse it is, by the limits: 1 is as much as a limit allows in all. */
  harm: number;
  /** Limits that hold without it, or are broken by less. */
  breaks: MeasureKey[];
}

/** Differences that no eye tells from none: shares of a limit, and of a value beyond it. */
const UNSEEN_OF_LIMIT = 0.02;
const UNSEEN_OF_VALUE = 0.03;
/** What is worse by no more than it scatters by itself counts so much: it may be chance. */
const WITHIN_SCATTER = 0.1;

/** Figures of all cases together. */
export function summariseAsset(cases: readonly CaseRows[]): AssetFigures {
  const mean = (values: readonly number[]): number =>
    values.reduce((sum, value) => sum + value, 0) / (values.length || 1);
  const worstOf = (rows: readonly CaseRows['whole'][]): AssetFigures['worst'] => {
    const worst: AssetFigures['worst'] = {};
    for (const { key } of MEASURES)
      for (const row of rows) {
        const found = summariseRow(row[key]);
        if (found) worst[key] = Math.max(worst[key] ?? 0, found.worst);
      }
    return worst;
  };
  return {
    cost: mean(cases.map(({ whole }) => summariseRow(whole.cost)?.mean ?? 0)),
    showThrough: mean(cases.map(({ whole }) => summariseRow(whole.showThrough)?.mean ?? 0)),
    worst: worstOf(cases.map(({ whole }) => whole)),
    garments: (cases[0]?.garments ?? []).map(({ garmentId }, g) => ({
      garmentId,
      worst: worstOf(cases.map(({ garments }) => garments[g]!.rows)),
    })),
  };
}

/**
 * Figures with how far they scatter by themselves: half their spread beyond the worst of some plays that differ by next to nothing.
 * @param shaken - The same asset, each time shaken a little otherwise.
 */
export function withScatter(figures: AssetFigures, shaken: readonly AssetFigures[]): AssetFigures {
  return {
    ...figures,
    garments: figures.garments.map((garment, g) => {
      const scattered: GarmentFigures['scattered'] = {};
      for (const { key } of MEASURES) {
        const all = [garment, ...shaken.map(({ garments }) => garments[g]!)].flatMap(
          ({ worst }) => worst[key] ?? [],
        );
        const [most, least] = [Math.max(...all), Math.min(...all)];
        if (all.length > 0) scattered[key] = most + (most - least) / 2;
      }
      return { ...garment, scattered };
    }),
  };
}

/** What became of an asset by a change. @param limits - Of each garment. */
export function judgeChange(
  before: AssetFigures,
  after: AssetFigures,
  limits: ReadonlyMap<RecordId, ResolvedLimits>,
): JudgedChange {
  const breaks = new Set<MeasureKey>();
  let harm = 0;
  for (const { garmentId, worst } of after.garments) {
    const own = before.garments.find((garment) => garment.garmentId === garmentId);
    const was = own?.scattered ?? own?.worst ?? {};
    for (const { key } of MEASURES) {
      const limit = limits.get(garmentId)?.[key] ?? null;
      const value = worst[key];
      // What it costs is what it is about, not a harm.
      if (key === 'cost' || limit === null || limit <= 0 || value === undefined) continue;
      const more = value - (was[key] ?? 0);
      const within = Math.min(value, was[key] ?? 0) - (own?.worst[key] ?? 0);
      if (within > UNSEEN_OF_LIMIT * limit) harm += (WITHIN_SCATTER * within) / limit;
      if (more <= UNSEEN_OF_LIMIT * limit) continue;
      harm += more / limit;
      if (value > limit && more > UNSEEN_OF_VALUE * value) breaks.add(key);
    }
  }
  return { saves: before.cost - after.cost, harm, breaks: [...breaks] };
}

/** Changes that save most for what they harm first; what saves nothing is left out, what breaks a limit comes last. */
export function rankChanges<T extends JudgedChange>(judged: readonly T[]): T[] {
  return judged
    .filter(({ saves }) => saves > LEAST_SAVING)
    .sort((p, q) => Number(p.breaks.length > 0) - Number(q.breaks.length > 0) || worthOf(q) - worthOf(p));
}

/** ms; less than this is nothing that was saved. */
const LEAST_SAVING = 0.0005;
/** What harms nothing counts as if it harmed so much. */
const LEAST_HARM = 0.01;

/** What is saved for each harm. */
export function worthOf({ saves, harm }: Pick<JudgedChange, 'saves' | 'harm'>): number {
  return saves / (harm + LEAST_HARM);
}
