import type { Pricing } from '../../../core/cost/index.ts';
import type { GarmentLevel, RecordId } from '../../../core/document/index.ts';
import type { BandFigures } from '../../../core/levels/index.ts';
import type { TrialCase } from '../../../core/trials/index.ts';
import type { TaskKindWork } from './task-kind.ts';

/** What is asked for: every band of a character's levels of detail, measured. */
export interface LevelsRequest {
  cases: readonly TrialCase[];
  pricing: Pricing;
  /** From near to far, as they were then: from which size on the screen, px, and garments that are at a level. */
  bands: readonly { from: number; levels: readonly (readonly [RecordId, GarmentLevel])[] }[];
  /** Of the character, m. */
  height: number;
  switchSeconds: number;
}

/** What a part found. */
export interface MeasuredBand extends BandFigures {
  /** Among those of the request. */
  band: number;
}

/** A part for each band, in any order. */
export const LEVELS_KIND: TaskKindWork<LevelsRequest, number> = {
  async run({ request: { cases, pricing }, part: band, run, note }) {
    const figures = await run('measureBand', { cases, band, pricing }, note);
    return { result: { band, ...figures } satisfies MeasuredBand };
  },

  async goOn() {
    return { parts: [] };
  },
};
