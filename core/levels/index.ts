export { type BandFigures, type FrameCosts, type LevelFigures, summariseBand } from './band-figures.ts';
export { chooseBand, findBand, type LevelBand, listBands } from './level-bands.ts';
export { type LevelMeshes, makeLevelMeshes, placeLevels } from './level-meshes.ts';
export { LevelRun } from './level-run.ts';
export { limitAtSize } from './limit-at-size.ts';
export { measureHeight } from './measure-height.ts';
export { countSwitchFrames, isSmooth, measureSwitch, type SwitchFigures } from './measure-switch.ts';
export { proposeLevels } from './propose-levels.ts';
export { setUpLevel } from './set-up-level.ts';
