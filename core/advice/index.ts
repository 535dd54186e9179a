export { advise, type Tried } from './advise.ts';
export { applyBudgetChanges, shakeDocument } from './apply-changes.ts';
export { type BudgetChange, tellPlaceOf } from './budget-change.ts';
export {
  type AssetFigures,
  judgeChange,
  summariseAsset,
  withScatter,
} from './judge-change.ts';
export {
  type Advice,
  type AdviceEntry,
  planCombination,
  readAdvice,
  type TriedChanges,
} from './plan-advice.ts';
export { proposeChanges } from './propose-changes.ts';
export { tellChange } from './tell-change.ts';
