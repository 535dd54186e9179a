import type { RecordId } from '../document/index.ts';
import {
  createWorkCounts,
  type GarmentWork,
  NO_RUN_TIMES,
  type RunTimes,
  type RunWork,
  scaleTimes,
  sumTimes,
  WORK,
  type WorkCounts,
  type WorkUnit,
} from '../run/index.ts';

/** Nanoseconds of one of each unit of work. */
export type UnitCosts = Record<WorkUnit, number>;

/** What work costs, ms a frame. */
export interface Price {
  total: number;
  parts: RunTimes;
  garments: readonly GarmentPrice[];
}

export interface GarmentPrice {
  garmentId: RecordId;
  total: number;
  parts: RunTimes;
  /** Of each collision body that has an id, by what it made the garment do. */
  bodies: ReadonlyMap<string, number>;
}

/** Milliseconds of some counts, part by part. */
export function priceCounts(counts: WorkCounts, costs: UnitCosts): RunTimes {
  const parts = { ...NO_RUN_TIMES };
  for (const { key, part, unit } of WORK) parts[part] += 1e-6 * counts[key] * costs[unit];
  return parts;
}

/**
 * What counted work costs: Σ count × unit cost, on the mean of its frames. The same work costs the same to the last digit, however
 * busy the machine is.
 */
export function priceWork({ frames, joints, garments }: RunWork, costs: UnitCosts): Price {
  const share = frames > 0 ? 1 / frames : 0;
  const posing = scaleTimes(priceCounts({ ...createWorkCounts(), joints }, costs), share);
  const priced = garments.map((garment) => priceGarment(garment, costs, share));
  const parts = priced.reduce((sum, garment) => addTimes(sum, garment.parts), posing);
  return { total: sumTimes(parts), parts, garments: priced };
}

function priceGarment(
  { garmentId, counts, bodies }: GarmentWork,
  costs: UnitCosts,
  share: number,
): GarmentPrice {
  const parts = scaleTimes(priceCounts(counts, costs), share);
  // What is done for each body whatever it meets, and what it met.
  const alike =
    bodies.length > 0
      ? (counts.bodies * costs.body + counts.bodyBlocks * costs.bodyBlock) / bodies.length
      : 0;
  const known = new Map<string, number>();
  for (const { id, isRound, tested, touched, faces } of bodies) {
    if (id === null) continue;
    const met =
      tested * (isRound ? costs.bodyVertex : costs.planeVertex) +
      touched * costs.touchedVertex +
      faces * costs.faceTest;
    known.set(id, (known.get(id) ?? 0) + 1e-6 * share * (alike + met));
  }
  return { garmentId, total: sumTimes(parts), parts, bodies: known };
}

function addTimes(a: RunTimes, b: RunTimes): RunTimes {
  const sum = { ...a };
  for (const part of Object.keys(sum) as (keyof RunTimes)[]) sum[part] += b[part];
  return sum;
}
