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
import { findFrameTime } from './find-frame-time.ts';

/** Nanoseconds of one of each unit of work. */
export type UnitCosts = Record<WorkUnit, number>;

/** What work is priced by. */
export interface Pricing {
  costs: UnitCosts;
  /** Costs are told of frames of this rate. */
  framesPerSecond: number;
  /** That work on a frame at once; default: one. */
  cores?: number;
}

/** What work costs, ms a frame. */
export interface Price {
  /** Until all is done, on as many cores as the target has: garments that do not wait for each other side by side. */
  total: number;
  /** Of all cores together; parts and garments add up to it. */
  sum: number;
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

/** Milliseconds of one of each kind of work, in frames of some rate that stand for frames of the rate that is priced. */
export function listPrices({ costs, framesPerSecond }: Pricing, rate: number): WorkCounts {
  const prices = createWorkCounts();
  for (const kind of WORK) {
    const length = 'isPerFrame' in kind ? 1 : rate / framesPerSecond;
    prices[kind.key] = 1e-6 * length * costs[kind.unit];
  }
  return prices;
}

/** Milliseconds of some counts, part by part. @param prices - Of one of each, see `listPrices`. */
export function priceCounts(counts: WorkCounts, prices: WorkCounts): RunTimes {
  const parts = { ...NO_RUN_TIMES };
  for (const { key, part } of WORK) parts[part] += counts[key] * prices[key];
  return parts;
}

/**
 * What counted work costs: Σ count × unit cost, on the mean of its frames. The same work costs the same to the last digit, however
 * busy the machine is. Frames of another length than those that were simulated do what they do of a frame as often, and the rest by their length.
 */
export function priceWork({ frames, seconds, joints, garments }: RunWork, pricing: Pricing): Price {
  const share = frames > 0 ? 1 / frames : 0;
  const prices = listPrices(pricing, seconds > 0 ? frames / seconds : pricing.framesPerSecond);
  const posing = scaleTimes(priceCounts({ ...createWorkCounts(), joints }, prices), share);
  const priced = garments.map((garment) => priceGarment(garment, prices, share));
  const parts = priced.reduce((sum, garment) => addTimes(sum, garment.parts), posing);
  const sum = sumTimes(parts);
  const costs = priced.map((garment) => garment.total);
  const total =
    (pricing.cores ?? 1) > 1
      ? sumTimes(posing) + findFrameTime(costs, listWaits(garments), pricing.cores!)
      : sum;
  return { total, sum, parts, garments: priced };
}

/** Places of the garments that each waits for. */
export function listWaits(garments: readonly Pick<GarmentWork, 'garmentId' | 'waitsFor'>[]): number[][] {
  return garments.map(({ waitsFor }, g) =>
    garments
      .slice(0, g)
      .flatMap(({ garmentId }, at) => ((waitsFor?.includes(garmentId) ?? true) ? [at] : [])),
  );
}

function priceGarment(
  { garmentId, counts, bodies }: GarmentWork,
  prices: WorkCounts,
  share: number,
): GarmentPrice {
  const parts = scaleTimes(priceCounts(counts, prices), share);
  // What is done for each body whatever it meets, and what it met.
  const alike =
    bodies.length > 0
      ? (counts.bodies * prices.bodies + counts.bodyBlocks * prices.bodyBlocks) / bodies.length
      : 0;
  const known = new Map<string, number>();
  for (const { id, isRound, tested, touched, faces } of bodies) {
    if (id === null) continue;
    const met =
      tested * (isRound ? prices.bodyVertices : prices.planeVertices) +
      touched * prices.touchedVertices +
      faces * prices.faceTests;
    known.set(id, (known.get(id) ?? 0) + share * (alike + met));
  }
  return { garmentId, total: sumTimes(parts), parts, bodies: known };
}

function addTimes(a: RunTimes, b: RunTimes): RunTimes {
  const sum = { ...a };
  for (const part of Object.keys(sum) as (keyof RunTimes)[]) sum[part] += b[part];
  return sum;
}
