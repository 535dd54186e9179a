export { StretchMeasure } from './measure-stretch.ts';
export { runTrial, type TrialFrame, TrialMeasure, type TrialOptions, type TrialPlace } from './run-trial.ts';
