import type { MeasureKey, RecordId } from '../document/index.ts';
import { type GarmentWork, sumTimes, sumWork, WORK_KEYS, type WorkKey } from '../run/index.ts';
import { MEASURE_KEYS } from './measures.ts';
import type { GarmentFrame, TrialFrame, TrialPlace } from './trial-frame.ts';

/** One measure over the frames of a case, NaN where it is not known. [frames] */
export type MeasureRows = Record<MeasureKey, Float32Array>;

/** What a case measured. */
export interface CaseRows {
  name: string;
  /** Seconds. [frames] */
  times: Float32Array;
  /** Over all garments. */
  whole: MeasureRows;
  garments: readonly GarmentRows[];
  /** Nodes and joints posed in a frame; null in trials of before work was counted. */
  joints: number | null;
  /** What the machine took by its clock, ms: over all, then of each garment. [garments + 1][frames] */
  clock: readonly Float32Array[];
}

export interface GarmentRows {
  garmentId: RecordId;
  garmentName: string;
  rows: MeasureRows;
  /** Where each measure was in its worst frame. */
  places: Partial<Record<MeasureKey, TrialPlace>>;
  /** What was done, counted; null in trials of before it was. */
  work: GarmentWorkRows | null;
}

export interface GarmentWorkRows {
  /** Of each kind in each frame; without kinds of which nothing was done. [frames] */
  counts: Readonly<Partial<Record<WorkKey, Float32Array>>>;
  /** What each collision body made of it, over all frames together. */
  bodies: GarmentWork['bodies'];
  /** See `GarmentWork`. */
  waitsFor?: GarmentWork['waitsFor'];
}

/** Where a row is worst: its first highest frame, -1 when nothing is known. */
export function findWorstFrame(row: Float32Array): number {
  let worst = -1;
  for (let i = 0; i < row.length; i++)
    if (!Number.isNaN(row[i]!) && !(worst >= 0 && row[i]! <= row[worst]!)) worst = i;
  return worst;
}

/** Of what is known of a row; null for a row of which nothing is. */
export function summariseRow(row: Float32Array): { worst: number; mean: number; frame: number } | null {
  const frame = findWorstFrame(row);
  if (frame < 0) return null;
  const known = row.filter((value) => !Number.isNaN(value));
  const mean = known.reduce((sum, value) => sum + value, 0) / known.length;
  return { worst: row[frame]!, mean, frame };
}

/** The rows of a case from its frames. @param names - Of garments, by id. */
export function collectRows(
  name: string,
  frames: readonly TrialFrame[],
  names: ReadonlyMap<RecordId, string>,
): CaseRows {
  const first = frames[0]?.garments ?? [];
  return {
    name,
    times: Float32Array.from(frames, ({ time }) => time),
    whole: gatherRows(frames),
    garments: first.map(({ garmentId }, g) => {
      const own = frames.map(({ garments }) => garments[g]!);
      const rows = gatherRows(own);
      const garmentName = names.get(garmentId) ?? garmentId;
      const work = gatherWork(frames.map((frame) => frame.work.garments[g]!));
      return { garmentId, garmentName, rows, places: gatherPlaces(own, rows), work };
    }),
    joints: frames[0]?.work.joints ?? 0,
    clock: [
      Float32Array.from(frames, ({ times }) => sumTimes(times)),
      ...first.map((_, g) => Float32Array.from(frames, ({ garmentTimes }) => garmentTimes[g]!)),
    ],
  };
}

function gatherRows(frames: readonly Record<MeasureKey, number | null>[]): MeasureRows {
  return Object.fromEntries(
    MEASURE_KEYS.map((key) => [key, Float32Array.from(frames, (frame) => frame[key] ?? Number.NaN)]),
  ) as MeasureRows;
}

function gatherWork(frames: readonly GarmentWork[]): GarmentWorkRows {
  const counts: Partial<Record<WorkKey, Float32Array>> = {};
  for (const key of WORK_KEYS)
    if (frames.some((frame) => frame.counts[key] > 0))
      counts[key] = Float32Array.from(frames, (frame) => frame.counts[key]);
  const [whole] =
    sumWork(frames.map((own) => ({ frames: 1, seconds: 0, joints: 0, garments: [own] })))?.garments ?? [];
  const waitsFor = frames[0]?.waitsFor;
  return { counts, bodies: whole?.bodies ?? [], ...(waitsFor && { waitsFor }) };
}

function gatherPlaces(frames: readonly GarmentFrame[], rows: MeasureRows): GarmentRows['places'] {
  const places: GarmentRows['places'] = {};
  for (const key of MEASURE_KEYS) {
    const place = frames[findWorstFrame(rows[key])]?.places[key];
    if (place) places[key] = place;
  }
  return places;
}
