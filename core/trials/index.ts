export { type CaseFrame, toFrames } from './case-frames.ts';
export {
  type CaseRows,
  collectRows,
  findWorstFrame,
  type GarmentRows,
  type MeasureRows,
  summariseRow,
} from './case-rows.ts';
export { ClothSurfaces } from './cloth-surfaces.ts';
export { countFrames, getFrameSeconds, TRIAL_RATES, type TrialRate } from './frame-rate.ts';
export { JITTER_DELAY, measureOffsets, weighCubic } from './jitter.ts';
export { type Breach, judgeRows } from './judge-rows.ts';
export { type ResolvedLimits, resolveAllLimits, resolveLimits } from './limits.ts';
export { StretchMeasure } from './measure-stretch.ts';
export { getMeasure, MEASURE_KEYS, MEASURES, type MeasureDefinition } from './measures.ts';
export { packTrial, type TrialPart, unpackTrial } from './pack-trial.ts';
export { priceFrames, priceRows, sumCaseWork } from './price-rows.ts';
export { runTrial, type TrialOptions } from './run-trial.ts';
export { EVERYWHERE, PosedSkin } from './skin/posed-skin.ts';
export type { SkinModel } from './skin/skin-model.ts';
export {
  countCaseFrames,
  createCase,
  createCaseDocument,
  findMoment,
  nameCase,
  TRIAL_WINDS,
  type TrialCase,
  type TrialMotion,
  type TrialWind,
} from './trial-case.ts';
export {
  combineGarments,
  findWorstGarment,
  type GarmentFrame,
  type MeasuredValues,
  type TrialFrame,
  type TrialPlace,
} from './trial-frame.ts';
export { TrialMeasure } from './trial-measure.ts';
export { createPlan, listCases, type TrialPlan } from './trial-plan.ts';
