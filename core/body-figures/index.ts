export { compareSets, type SetOnClip, type SetsRequest } from './compare-sets.ts';
export { COVERED, FARTHEST, OVERHUNG } from './distances.ts';
export type { SkinHole } from './find-hole.ts';
export {
  type BodyFit,
  type FitFigures,
  measureFitFigures,
  measureSetReach,
  type PoseFit,
  type SetFit,
} from './fit-figures.ts';
export { joinUses } from './join-uses.ts';
export { type BodyUse, measureUse, type UseRequest } from './measure-use.ts';
export { spreadToVertices } from './spread-to-vertices.ts';
