import type { MeasureKey, RecordId } from '../document/index.ts';
import type { WeldedIndex } from '../mesh/index.ts';
import type { RunTimes, RunWork } from '../run/index.ts';
import { MEASURES } from './measures.ts';

/** Each measure, in the units of `MEASURES`. */
export interface MeasuredValues extends Record<Exclude<MeasureKey, 'jitter' | 'scatter'>, number> {
  /** Null before and after the frames that it is judged by. */
  jitter: number | null;
  /** Null where the clip does not close. */
  scatter: number | null;
}

/** Where a measure is worst. */
export interface TrialPlace {
  /** World space, m. */
  position: [number, number, number];
  /** The nearest welded vertex of the garment, where one is known. */
  point: WeldedIndex | null;
  /** How much it is there: m, or strain of an edge. */
  amount: number;
}

/** What one frame measured of one garment. */
export interface GarmentFrame extends MeasuredValues {
  garmentId: RecordId;
  /** Where each measure is worst; without what is nowhere. */
  places: Partial<Record<MeasureKey, TrialPlace>>;
}

/** What one frame of a trial measured: over all garments, and of each. */
export interface TrialFrame extends MeasuredValues {
  /** Seconds into the clip, or since a blend's first measured frame. */
  time: number;
  /** From the skin outward. */
  garments: readonly GarmentFrame[];
  /** Milliseconds that the frame took here by part, with what is drawn in the place of sim meshes, without measuring. */
  times: RunTimes;
  /** The same of each garment by itself, all parts together. */
  garmentTimes: readonly number[];
  /** What was done, counted; what it costs is told by it, see `priceWork`. */
  work: RunWork;
  /** Looked at before all others, roughly: it comes again with what it is. */
  isGlance?: true;
}

/** The whole of several garments: the worst of each measure, or the sum, as `MEASURES` says. */
export function combineGarments(garments: readonly MeasuredValues[]): MeasuredValues {
  const whole: Partial<Record<MeasureKey, number | null>> = {};
  for (const { key, combine } of MEASURES) {
    const values = garments.map((garment) => garment[key]).filter((value) => value !== null);
    const isKnown = values.length > 0 || garments.length === 0;
    const total = combine === 'sum' ? values.reduce((sum, value) => sum + value, 0) : Math.max(0, ...values);
    whole[key] = isKnown ? total : null;
  }
  return whole as MeasuredValues;
}

/** The garment of a frame that is worst by a measure; null when all are 0. */
export function findWorstGarment(
  { garments }: Pick<TrialFrame, 'garments'>,
  key: MeasureKey,
): GarmentFrame | null {
  let worst: GarmentFrame | null = null;
  for (const garment of garments) if ((garment[key] ?? 0) > (worst?.[key] ?? 0)) worst = garment;
  return worst;
}
