import type { Pricing } from '../../../core/cost/index.ts';
import { listGarments } from '../../../core/document/index.ts';
import { setUpRun } from '../../../core/run/index.ts';
import { applyChanges, type VariableChanges } from '../../../core/search/index.ts';
import {
  type CaseRows,
  collectRows,
  createCaseDocument,
  nameCase,
  runTrial,
  type TrialCase,
  type TrialFrame,
} from '../../../core/trials/index.ts';
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
  known: KnownSubject,
  { trialCase, changes, pricing }: CaseJob,
  onDone: (frames: number) => void,
): MeasuredCase {
  const start = performance.now();
  const { character, cache } = known;
  const document = changes ? applyChanges(known.document, changes) : known.document;
  const setup = setUpRun(createCaseDocument(document, trialCase), character, { cache });
  const frames: TrialFrame[] = [];
  for (const frame of runTrial(setup, {
    ...trialCase,
    clock: () => performance.now(),
    ...(pricing && { pricing }),
  })) {
    frames.push(frame);
    onDone(frames.length);
  }
  const names = new Map(listGarments(document).map(({ id, name }) => [id, name]));
  const rows = collectRows(nameCase(trialCase, character), frames, names);
  return { rows, seconds: (performance.now() - start) / 1000 };
}
