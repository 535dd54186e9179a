export { PosedBody } from './posed-body.ts';
export {
  measurePenetration,
  measureStretch,
  runTrial,
  type TrialFrame,
  type TrialOptions,
} from './run-trial.ts';
