export { advise, type Tried } from './advise.ts';
export { applyBudgetChanges, holdBelow, readSimSettings, shakeDocument } from './apply-changes.ts';
export { type BudgetChange, tellPlaceOf } from './budget-change.ts';
export {
  type AssetFigures,
  type JudgedChange,
  judgeChange,
  rankChanges,
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
