import {
  type AssetFigures,
  applyBudgetChanges,
  type BudgetChange,
  proposeChanges,
  shakeDocument,
  summariseAsset,
  withScatter,
} from '../../../core/advice/index.ts';
import type { Pricing } from '../../../core/cost/index.ts';
import type { AuthoredDocument } from '../../../core/document/index.ts';
import type { Coarsened } from '../../../core/prepare/index.ts';
import { sumWork } from '../../../core/run/index.ts';
import { type CaseRows, sumCaseWork, type TrialCase } from '../../../core/trials/index.ts';
import { playCase } from './play-case.ts';
import type { KnownSubject } from './subject.ts';

/** Changes that may make an asset cheaper, tried together on some cases. */
export interface ChangesJob {
  cases: readonly TrialCase[];
  changes: readonly BudgetChange[];
  pricing: Pricing;
}

export interface MadeChanges {
  /** Null when they cannot be done. */
  figures: AssetFigures | null;
  /** What may be tried, when nothing was changed. */
  proposals: BudgetChange[];
}

/** The asset as it is is played once more for each of these, shaken: that tells how far its worst frames scatter. */
const SHAKES = [-1, 1];
/** How often the cases are played for the asset as it is; for a change they are played once. */
export const FIRST_PLAYS = 1 + SHAKES.length;

/** Plays all cases with some changes. @param onDone - Told how many frames are measured. */
export function tryChanges(
  known: KnownSubject,
  { cases, changes, pricing }: ChangesJob,
  onDone: (frames: number) => void,
): MadeChanges {
  let changed: Coarsened;
  try {
    changed = applyBudgetChanges(known.character, known.document, changes);
  } catch (error) {
    if (error instanceof RangeError) return { figures: null, proposals: [] };
    throw error;
  }
  let before = 0;
  const play = (document: AuthoredDocument): CaseRows[] =>
    cases.map((trialCase) => {
      const played = { character: changed.character, document, cache: known.cache, pricing };
      const rows = playCase(played, trialCase, (frames) => onDone(before + frames));
      before += rows.times.length;
      return rows;
    });
  const measured = play(changed.document);
  const figures = summariseAsset(measured);
  if (changes.length > 0) return { figures, proposals: [] };
  const work = sumWork(measured.flatMap((rows) => sumCaseWork(rows) ?? []));
  const shaken = SHAKES.map((strength) => summariseAsset(play(shakeDocument(changed.document, strength))));
  return {
    figures: withScatter(figures, shaken),
    proposals: work ? proposeChanges(known.character, known.document, work, pricing) : [],
  };
}
