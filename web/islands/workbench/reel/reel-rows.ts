import type { MeasureKey, RecordId } from '../../../../core/document/index.ts';
import {
  type CaseFrame,
  getMeasure,
  type MeasureDefinition,
  type ResolvedLimits,
} from '../../../../core/trials/index.ts';
import type { ColorName } from '../../../state/theme.ts';

/** How a measure is drawn in the reel; the rest is as `MEASURES` says. */
interface ReelMeasure {
  key: MeasureKey;
  color: ColorName;
  /** The row's top is at least this, in its unit, so that noise does not look like a peak. */
  leastTop: number;
  /** What the number beside the row is: its peak, or its mean where single frames say little (times). */
  summary: 'most' | 'mean';
}

export type ReelRowDefinition = ReelMeasure & Omit<MeasureDefinition, 'key'>;

const ROWS: readonly ReelMeasure[] = [
  { key: 'showThrough', color: 'brick', leastTop: 10, summary: 'most' },
  { key: 'penetration', color: 'plum', leastTop: 10, summary: 'most' },
  { key: 'layers', color: 'violet', leastTop: 10, summary: 'most' },
  { key: 'stretch', color: 'marigold', leastTop: 10, summary: 'most' },
  { key: 'jitter', color: 'moss', leastTop: 1, summary: 'most' },
  { key: 'cost', color: 'teal', leastTop: 1, summary: 'mean' },
];

/** The rows of a character; a single garment has no layers. */
export function listReelRows(garmentCount: number): ReelRowDefinition[] {
  return ROWS.filter(({ key }) => key !== 'layers' || garmentCount > 1).map((row) => ({
    ...getMeasure(row.key),
    ...row,
  }));
}

/** The strictest limit of any garment in a row's unit, null when none has one. */
export function findStrictest(
  limits: Iterable<ResolvedLimits>,
  { key, factor }: ReelRowDefinition,
): number | null {
  const known = [...limits].map((one) => one[key]).filter((limit) => limit !== null);
  return known.length > 0 ? factor * Math.min(...known) : null;
}

/** Whether any garment is over its own limit in any frame; the whole of several may be more than a limit that each keeps. */
export function isOverLimit(
  frames: readonly CaseFrame[],
  limits: ReadonlyMap<RecordId, ResolvedLimits>,
  key: MeasureKey,
): boolean {
  return frames.some(({ garments }) =>
    garments.some((garment) => (garment[key] ?? 0) > (limits.get(garment.garmentId)?.[key] ?? Infinity)),
  );
}

/** Seconds between the marks of a time axis: about eight of them. */
export function chooseTickStep(duration: number): number {
  const steps = [0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10, 15, 30, 60];
  return steps.find((step) => duration / step <= 9) ?? 120;
}
