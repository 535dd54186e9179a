import { findFrameTime, listPrices, listWaits, type Pricing, priceCounts, priceWork } from '../cost/index.ts';
import {
  createWorkCounts,
  FRAME_RATE,
  type GarmentWork,
  type RunWork,
  sumTimes,
  WORK_KEYS,
  type WorkCounts,
} from '../run/index.ts';
import type { CaseRows, GarmentWorkRows } from './case-rows.ts';
import type { TrialFrame } from './trial-frame.ts';

/** Rows with what every frame costs. Those of before work was counted keep what the machine took then. */
export function priceRows(rows: CaseRows, pricing: Pricing): CaseRows {
  if (rows.joints === null) return rows;
  const frames = rows.times.length;
  const prices = listPrices(pricing, frames / measureSeconds(rows.times));
  const posing = sumTimes(priceCounts({ ...createWorkCounts(), joints: rows.joints }, prices));
  const own = rows.garments.map(({ work }) => priceGarment(work!, frames, prices));
  const waits = listWaits(rows.garments.map(({ garmentId, work }) => ({ garmentId, ...tellWaits(work!) })));
  const total = Float32Array.from({ length: frames }, (_, f) => {
    const costs = own.map((row) => row[f]!);
    return posing + findFrameTime(costs, waits, pricing.cores ?? 1);
  });
  return {
    ...rows,
    whole: { ...rows.whole, cost: total },
    garments: rows.garments.map((garment, g) => ({ ...garment, rows: { ...garment.rows, cost: own[g]! } })),
  };
}

/** All that was done in a case; null of one of before work was counted. */
export function sumCaseWork({ joints, times, garments }: CaseRows): RunWork | null {
  if (joints === null) return null;
  const frames = times.length;
  const works = garments.map(({ garmentId, work }): GarmentWork => {
    const counts = createWorkCounts();
    for (const key of WORK_KEYS) counts[key] = work!.counts[key]?.reduce((sum, count) => sum + count, 0) ?? 0;
    return { garmentId, counts, bodies: work!.bodies, ...tellWaits(work!) };
  });
  return { frames, seconds: measureSeconds(times), joints: frames * joints, garments: works };
}

function tellWaits({ waitsFor }: GarmentWorkRows): Pick<GarmentWork, 'waitsFor'> {
  return waitsFor ? { waitsFor } : {};
}

/** How long all frames of a case are, by when they are. */
function measureSeconds(times: Float32Array): number {
  const [first, last] = [times[0] ?? 0, times.at(-1) ?? 0];
  return times.length > 1 && last > first
    ? ((last - first) * times.length) / (times.length - 1)
    : times.length / FRAME_RATE;
}

/** Frames with what they cost by other prices. */
export function priceFrames(frames: readonly TrialFrame[], pricing: Pricing): TrialFrame[] {
  return frames.map((frame) => {
    const price = priceWork(frame.work, pricing);
    const garments = frame.garments.map((garment, g) => ({ ...garment, cost: price.garments[g]!.total }));
    return { ...frame, cost: price.total, garments };
  });
}

/** ms of each frame. [frames] */
function priceGarment({ counts }: GarmentWorkRows, frames: number, prices: WorkCounts): Float32Array {
  const sum = new Float64Array(frames);
  for (const key of WORK_KEYS) {
    const row = counts[key];
    const cost = prices[key];
    if (row && cost > 0) for (let f = 0; f < frames; f++) sum[f] = sum[f]! + cost * row[f]!;
  }
  return Float32Array.from(sum);
}
