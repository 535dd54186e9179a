import type { RecordId } from '../document/index.ts';
import type { ResolvedLimits } from '../trials/index.ts';
import type { BudgetChange } from './budget-change.ts';
import type { AssetFigures } from './judge-change.ts';
import { type Advice, planCombination, readAdvice, type TriedChanges } from './plan-advice.ts';

/** What comes of trying some changes together. */
export interface Tried {
  /** Null when they cannot be done. */
  figures: AssetFigures | null;
  /** What may be tried, when nothing was changed. */
  proposals: readonly BudgetChange[];
}

/**
 * Tries what may make an asset cheaper: nothing, each proposal by itself, then combinations until one is under the budget.
 *
 * @param tryOut - Plays the asset with changes; single ones are asked for all at once. @param limits - Of each garment. @param budget - ms.
 */
export async function advise(
  tryOut: (changes: readonly BudgetChange[]) => Promise<Tried>,
  limits: ReadonlyMap<RecordId, ResolvedLimits>,
  budget: number,
): Promise<Advice> {
  const { figures, proposals } = await tryOut([]);
  const tried: TriedChanges[] = [{ changes: [], figures }];
  const singles = proposals.map(async (change): Promise<TriedChanges> => {
    const changes = [change];
    return { changes, figures: (await tryOut(changes)).figures };
  });
  tried.push(...(await Promise.all(singles)));
  for (;;) {
    const next = planCombination(tried, limits, budget);
    if (!next) return readAdvice(tried, limits, budget);
    tried.push({ changes: next, figures: (await tryOut(next)).figures });
  }
}
