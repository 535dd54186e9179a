import { priceCounts, priceWork, type UnitCosts } from '../cost/index.ts';
import { createWorkCounts, type GarmentWork, type RunWork, sumTimes, WORK, WORK_KEYS } from '../run/index.ts';
import type { CaseRows, GarmentWorkRows } from './case-rows.ts';
import type { TrialFrame } from './trial-frame.ts';

/** Rows with the cost of every frame by unit costs. Those of before work was counted keep what the machine took then. */
export function priceRows(rows: CaseRows, costs: UnitCosts): CaseRows {
  if (rows.joints === null) return rows;
  const frames = rows.times.length;
  const posing = sumTimes(priceCounts({ ...createWorkCounts(), joints: rows.joints }, costs));
  const own = rows.garments.map(({ work }) => priceGarment(work!, frames, costs));
  const total = Float32Array.from({ length: frames }, (_, f) =>
    own.reduce((sum, row) => sum + row[f]!, posing),
  );
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
    return { garmentId, counts, bodies: work!.bodies };
  });
  return { frames, joints: frames * joints, garments: works };
}

/** Frames with their costs by other unit costs. */
export function priceFrames(frames: readonly TrialFrame[], costs: UnitCosts): TrialFrame[] {
  return frames.map((frame) => {
    const price = priceWork(frame.work, costs);
    const garments = frame.garments.map((garment, g) => ({ ...garment, cost: price.garments[g]!.total }));
    return { ...frame, cost: price.total, garments };
  });
}

/** ms of each frame. [frames] */
function priceGarment({ counts }: GarmentWorkRows, frames: number, costs: UnitCosts): Float32Array {
  const sum = new Float64Array(frames);
  for (const { key, unit } of WORK) {
    const row = counts[key];
    const cost = 1e-6 * costs[unit];
    if (row && cost > 0) for (let f = 0; f < frames; f++) sum[f] = sum[f]! + cost * row[f]!;
  }
  return Float32Array.from(sum);
}
