import type { CostProfile } from '../../cost/index.ts';
import { fitUnitCosts, measureFit } from './fit-unit-costs.ts';
import { FITTED, listGarmentSpecs } from './garment-spec.ts';
import { GarmentTimer, type GarmentTiming, type TimeOptions } from './time-garments.ts';

/** A garment whose time is off by more than this share is timed again, so often at most: it may have been disturbed. */
const DOUBTFUL = 0.1;
const MOST_DOUBTS = 2;
/** Share of the progress of the first times; what comes then is mostly little. */
const FIRST_SHARE = 0.85;

/** Times generated garments on this machine and fits unit costs to most of them; the others tell how good the fit is. Yields the share done. */
export function* calibrate(options: TimeOptions): Generator<number, Pick<CostProfile, 'costs' | 'fit'>> {
  const timer = new GarmentTimer(listGarmentSpecs(), options);
  for (const share of timer.play()) yield FIRST_SHARE * share;
  for (let round = 0; round < MOST_DOUBTS; round++) {
    const { timings, costs } = fitTimes(timer);
    const doubtful = measureFit(timings, costs).flatMap(({ predicted, measured }, g) =>
      Math.abs(predicted / measured - 1) > DOUBTFUL ? [g] : [],
    );
    const done = (round + 1) / MOST_DOUBTS;
    for (const share of timer.playAgain(doubtful))
      yield FIRST_SHARE + (1 - FIRST_SHARE) * (done - (1 - share) / MOST_DOUBTS);
  }
  const { timings, costs } = fitTimes(timer);
  return { costs, fit: { fitted: FITTED, tried: measureFit(timings.slice(FITTED), costs) } };
}

function fitTimes(timer: GarmentTimer): { timings: GarmentTiming[]; costs: CostProfile['costs'] } {
  const timings = timer.listTimings();
  return { timings, costs: fitUnitCosts(timings.slice(0, FITTED)) };
}
