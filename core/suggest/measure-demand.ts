import { type Pricing, priceWork, REFERENCE_PRICING } from '../cost/index.ts';
import { type CharacterRun, type RunSetup, startRun } from '../run/index.ts';
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
  /** What a frame of the garments that are asked for pricing on the mean, ms. */
  cost: number;
}

/** A fault deeper than this, m, counts more, up to so many times. */
const FULL_DEPTH = 0.006;
const MOST_WEIGHT = 4;
/** Every so many frames one is measured; of a clip that is shorter the last. */
const MEASURE_EVERY = 6;

/** A run of a body set, and what it leaves open from frame to frame. */
class DemandMeter {
  readonly run: CharacterRun;
  readonly #measure: TrialMeasure;
  readonly #garmentIds: readonly string[];
  readonly #weights: Float32Array;
  readonly #pricing: Pricing;
  readonly #found = { showThrough: 0, mostShowThrough: 0, penetration: 0 };
  #deepest: Demand['deepest'] = null;
  #frames = 0;
  #measured = 0;

  constructor(setup: RunSetup, garmentIds: readonly string[], pricing: Pricing) {
    this.run = startRun(setup);
    this.#pricing = pricing;
    this.#measure = new TrialMeasure(this.run, setup.bodySections);
    this.#garmentIds = garmentIds;
    this.#weights = new Float32Array(this.#measure.skinPointCount);
  }

  noteCovers(): void {
    this.#measure.noteCovers();
  }

  /** After a frame. */
  note(): void {
    if (this.#frames++ % MEASURE_EVERY === MEASURE_EVERY - 1) this.#look();
  }

  #look(): void {
    this.#measured++;
    const weights = this.#weights;
    const { showThrough, penetration } = this.#measure.measure((point, area, depth) => {
      if (depth > (this.#deepest?.depth ?? 0)) this.#deepest = { point, depth };
      weights[point] = weights[point]! + area * Math.min(MOST_WEIGHT, Math.max(1, depth / FULL_DEPTH));
    });
    const found = this.#found;
    found.showThrough += showThrough;
    found.mostShowThrough = Math.max(found.mostShowThrough, showThrough);
    found.penetration = Math.max(found.penetration, penetration);
  }

  summarise(clip: number): Demand {
    if (this.#measured === 0) this.#look();
    const count = this.#measured;
    const price = priceWork(this.run.takeWork(), this.#pricing);
    const asked = price.garments.filter(({ garmentId }) => this.#garmentIds.includes(garmentId));
    return {
      ...this.#found,
      clip,
      weights: this.#weights.map((weight) => weight / count),
      deepest: this.#deepest,
      showThrough: this.#found.showThrough / count,
      cost: asked.reduce((sum, { total }) => sum + total, 0),
    };
  }
}

/**
 * Plays a clip through with each of some body sets and looks what it leaves open: what shows through, and cloth in the body, at the nearest
 * point of the skin. Coarser than a trial: every sixth frame, and no long clip played before. Yields the share done.
 *
 * @param garmentIds - Garments whose cost counts. @param pricing - What work is priced by.
 */
export function* measureDemands(
  setups: readonly RunSetup[],
  clip: number,
  garmentIds: readonly string[],
  pricing: Pricing = REFERENCE_PRICING,
): Generator<number, Demand[]> {
  const meters = setups.map((setup) => new DemandMeter(setup, garmentIds, pricing));
  yield* playThrough(
    meters.map(({ run }) => run),
    clip,
    {
      onFrame: () => {
        for (const meter of meters) meter.note();
      },
      onSettled: () => {
        for (const meter of meters) meter.noteCovers();
      },
      onStart: () => {
        for (const { run } of meters) run.takeWork();
      },
    },
  );
  return meters.map((meter) => meter.summarise(clip));
}
