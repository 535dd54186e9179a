import { type RunSetup, startRun } from '../run/index.ts';
import { TrialMeasure } from '../trials/index.ts';
import { playThrough } from './play-through.ts';

/** What a body set leaves open on a clip, and where. */
export interface Demand {
  /** Index of the clip. */
  clip: number;
  /** Mean over the frames of what shows through or lies in the body at each point of the skin's model, m², deep faults more than shallow ones. [n] */
  weights: Float32Array;
  /** Of what shows through, m²: the mean and the worst frame; of cloth inside the body, m. */
  showThrough: number;
  mostShowThrough: number;
  penetration: number;
  /** Where cloth and skin pass through each other deepest, by point of the skin, and how deep, m; null when they do not. */
  deepest: { point: number; depth: number } | null;
  /** Milliseconds of a frame of the garments that are asked for, here: the median. */
  cost: number;
}

/** A fault deeper than this, m, counts more, up to so many times. */
const FULL_DEPTH = 0.006;
const MOST_WEIGHT = 4;
/** Every so many frames one is measured. */
const MEASURE_EVERY = 6;

/**
 * Plays a clip through and looks what the bodies leave open: what shows through, and cloth in the body, at the nearest point of the skin.
 * Coarser than a trial: every sixth frame, and no long clip played before. Yields the share done.
 *
 * @param garmentIds - Garments whose cost counts.
 */
export function* measureDemand(
  setup: RunSetup,
  clip: number,
  garmentIds: readonly string[],
  clock: () => number,
): Generator<number, Demand> {
  const run = startRun(setup, { clock });
  const measure = new TrialMeasure(run, setup.bodySections);
  const weights = new Float32Array(measure.skinPointCount);
  const costs: number[] = [];
  let frame = 0;
  let measured = 0;
  const demand = { showThrough: 0, mostShowThrough: 0, penetration: 0 };
  let deepest: Demand['deepest'] = null;
  const onFrame = (): void => {
    const times = run.takeTimes().garments;
    costs.push(
      run.garments.reduce((sum, { setup }, g) => sum + (garmentIds.includes(setup.id) ? times[g]! : 0), 0),
    );
    if (frame++ % MEASURE_EVERY !== MEASURE_EVERY - 1) return;
    measured++;
    const { showThrough, penetration } = measure.measure((point, area, depth) => {
      if (depth > (deepest?.depth ?? 0)) deepest = { point, depth };
      weights[point] = weights[point]! + area * Math.min(MOST_WEIGHT, Math.max(1, depth / FULL_DEPTH));
    });
    demand.showThrough += showThrough;
    demand.mostShowThrough = Math.max(demand.mostShowThrough, showThrough);
    demand.penetration = Math.max(demand.penetration, penetration);
  };
  yield* playThrough([run], clip, {
    onFrame,
    onSettled: () => measure.noteCovers(),
    onStart: () => run.takeTimes(),
  });
  const count = Math.max(1, measured);
  for (let p = 0; p < weights.length; p++) weights[p] = weights[p]! / count;
  costs.sort((p, q) => p - q);
  return {
    ...demand,
    clip,
    weights,
    deepest,
    showThrough: demand.showThrough / count,
    cost: costs[Math.floor(costs.length / 2)]!,
  };
}
