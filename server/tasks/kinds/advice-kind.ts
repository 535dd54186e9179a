import { type BudgetChange, planCombination, type TriedChanges } from '../../../core/advice/index.ts';
import type { Pricing } from '../../../core/cost/index.ts';
import type { RecordId } from '../../../core/document/index.ts';
import type { ResolvedLimits, TrialCase } from '../../../core/trials/index.ts';
import { FIRST_PLAYS } from '../../work/jobs/index.ts';
import { type NewPart, readPartTotal, readResults } from '../task-sql.ts';
import type { NextParts, TaskKindWork } from './task-kind.ts';

/** What is asked for: how to get under a budget without breaking limits. */
export interface AdviceRequest {
  cases: readonly TrialCase[];
  /** ms a frame. */
  budget: number;
  /** Of each garment. */
  limits: readonly (readonly [RecordId, ResolvedLimits])[];
  pricing: Pricing;
}

/** What a part found; of the first, what may be tried. */
export interface AdviceResult extends TriedChanges {
  proposals: readonly BudgetChange[];
}

/** Combinations that are tried, about. */
const COMBINATIONS = 2;

/**
 * Savings: a part that measures the asset as it is and tells what may be tried, one for each of these, then combinations one after the other
 * until one is under the budget. What is tried next follows from what is stored alone, so any worker goes on with it.
 */
export const ADVICE_KIND: TaskKindWork<AdviceRequest, readonly BudgetChange[]> = {
  async run({ request: { cases, pricing }, part: changes, run, note }) {
    const made = await run('tryChanges', { cases, changes, pricing }, note);
    return { result: { changes, ...made } satisfies AdviceResult };
  },

  async goOn(em, taskId, { limits, budget }): Promise<NextParts> {
    const tried = await readResults<AdviceResult>(em, taskId);
    const total = (await readPartTotal(em, taskId)) / FIRST_PLAYS;
    const [first] = tried;
    if (tried.length === 1 && first!.proposals.length > 0) {
      const parts = first!.proposals.map((change) => toPart([change], total));
      const isOver = (first!.figures?.cost ?? 0) > budget;
      return { parts, expected: 1 + parts.length + (isOver ? COMBINATIONS : 0) };
    }
    const next = planCombination(tried, new Map(limits), budget);
    return { parts: next ? [toPart(next, total)] : [] };
  },
};

/** A part that tries changes together. @param total - Frames. */
export function toPart(changes: readonly BudgetChange[], total: number): NewPart {
  const name = ['as it is', 'a change'][changes.length] ?? `${changes.length} changes`;
  return { name, total, request: changes };
}
