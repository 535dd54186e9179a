import type { Pricing } from '../../../core/cost/index.ts';
import { applyChanges, type VariableChanges } from '../../../core/search/index.ts';
import type { CaseRows, TrialCase } from '../../../core/trials/index.ts';
import { playCase } from './play-case.ts';
import type { KnownSubject } from './subject.ts';

export interface CaseJob {
  trialCase: TrialCase;
  /** What is other than in the document, for this case alone. */
  changes?: VariableChanges;
  /** What work is priced by; that of the reference machine when left out. */
  pricing?: Pricing;
}

export interface MeasuredCase {
  rows: CaseRows;
  /** That it took. */
  seconds: number;
}

/** Measures one case of a trial. @param onDone - Told how many frames are measured. */
export function measureCase(
  { character, cache, document }: KnownSubject,
  { trialCase, changes, pricing }: CaseJob,
  onDone: (frames: number) => void,
): MeasuredCase {
  const start = performance.now();
  const changed = changes ? applyChanges(document, changes) : document;
  const rows = playCase({ character, document: changed, cache, pricing }, trialCase, onDone);
  return { rows, seconds: (performance.now() - start) / 1000 };
}
