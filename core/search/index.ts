export { Evolution, type TriedPoint } from './evolution.ts';
export { findFront } from './find-front.ts';
export { haltonPoint, MOST_DIMENSIONS } from './halton.ts';
export { proposePoints, type SearchPlan } from './propose-points.ts';
export { type SearchScore, scoreRows } from './score-rows.ts';
export {
  applyChanges,
  changeVariables,
  describeVariable,
  readVariable,
  type SearchVariable,
  toShare,
  toValue,
  VARIABLE_KEYS,
  type VariableChanges,
  type VariableDescription,
  type VariableKey,
} from './search-variable.ts';
