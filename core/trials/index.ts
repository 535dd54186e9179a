export { ClothSurfaces } from './cloth-surfaces.ts';
export { StretchMeasure } from './measure-stretch.ts';
export { runTrial, type TrialFrame, TrialMeasure, type TrialOptions, type TrialPlace } from './run-trial.ts';
export { EVERYWHERE, PosedSkin } from './skin/posed-skin.ts';
export type { SkinModel } from './skin/skin-model.ts';
