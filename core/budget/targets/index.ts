export { COST_GROUPS, type CostGroup } from './cost-groups.ts';
export { fitTarget, type GarmentTimings, type TargetFit } from './fit-target.ts';
export { profileFromTimings } from './profile-from-timings.ts';
export {
  parseTargetFile,
  TARGET_FIELDS,
  type TargetFile,
  writeTargetFile,
} from './target-file.ts';
export { countTargetWork, listTargetGarments, type TargetGarment } from './target-garments.ts';
export { nameGarmentFile, readTimings, type Timings, writeTimingsTemplate } from './timings-csv.ts';
