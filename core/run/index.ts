export { type BodyContact, BodyContacts } from './body-contacts.ts';
export { type BodyMesh, createBodyMesh, type MetMesh, poseBodyMesh } from './body-mesh.ts';
export { CharacterRun, FRAME_RATE, type RunOptions } from './character-run.ts';
export { type CreateRunOptions, createRun, startRun } from './create-run.ts';
export { findLongestChains } from './find-longest-chains.ts';
export { findSeam } from './find-seam.ts';
export { freeGarment } from './free-garment.ts';
export { type CompiledEntry, GarmentCache } from './garment-cache.ts';
export { findLining, type GarmentReach, readReach } from './garment-reach.ts';
export { GarmentRun } from './garment-run.ts';
export { type GarmentSetup, type LevelChoice, listMetMeshes, setUpGarments } from './garment-setup.ts';
export { type BindingError, measureBinding } from './measure-binding.ts';
export { MeshDistances } from './mesh-distances.ts';
export { bindRender, createBoundPositions, type RenderBinding, writeBound } from './render-binding.ts';
export { type RunSetup, type SetUpOptions, setUpRun } from './run-setup.ts';
export { NO_RUN_TIMES, type RunTimes, scaleTimes, sumTimes } from './run-times.ts';
export {
  addCounts,
  createWorkCounts,
  type GarmentWork,
  type RunWork,
  sumWork,
  WORK,
  WORK_KEYS,
  WORK_UNITS,
  type WorkCounts,
  type WorkKey,
  type WorkPart,
  type WorkUnit,
} from './run-work.ts';
export { SkinnedSection } from './skinned-section.ts';
export { stepTogether } from './step-together.ts';
export { measureReachNeed, type SuggestReachOptions, shapeReach } from './suggest-reach.ts';
