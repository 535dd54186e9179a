import { findBudget } from '../../core/cost/index.ts';
import { getScene } from '../../core/document/index.ts';
import { useStore } from './store.ts';
import { useDocument, useWorkbench } from './workbench.ts';

/** Milliseconds of a frame that the cloth of this character may take: as typed for it, or as its target profile says. */
export function useBudget(): { budget: number; ofTarget: number } {
  const { targets } = useWorkbench();
  const { target } = useStore(targets.store, (state) => state);
  const typed = getScene(useDocument().document).budgetMilliseconds;
  const ofTarget = findBudget(target);
  return { budget: typed ?? ofTarget, ofTarget };
}
