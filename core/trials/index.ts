export { PosedSkin } from './posed-skin.ts';
export {
  measurePenetration,
  measureStretch,
  runTrial,
  type TrialFrame,
  type TrialOptions,
} from './run-trial.ts';
