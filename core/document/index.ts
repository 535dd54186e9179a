export { computeBorderShare, listBodySections } from './body-sections.ts';
export {
  BodySetError,
  type BodySetFile,
  measureBones,
  type PlacedBody,
  parseBodySet,
  placeBodySet,
  toSetRecords,
  writeBodySet,
} from './body-set-file/index.ts';
export { capsulesOfMesh } from './capsules-of-mesh.ts';
export type { CharacterSummary } from './character-summary.ts';
export { createGarment, insertGarment, type NewGarment } from './create-garment.ts';
export { type DocumentState, describeChanges, type StateRecord } from './describe-changes.ts';
export {
  applyDiff,
  applyPatch,
  changesMotion,
  compareDocuments,
  createDiff,
  type DocumentDiff,
  type DocumentPatch,
  History,
  invertDiff,
  isEmptyDiff,
  isSparse,
  mergeDiffs,
  openPatch,
  tellMotion,
  toPatch,
  toWholePatch,
  type WholeChange,
} from './diff/index.ts';
export {
  type AuthoredDocument,
  countBodies,
  createDocument,
  findChannel,
  getScene,
  listBodies,
  listBodyMeshes,
  listGarments,
  listMaps,
  listRecords,
  listSteps,
} from './document.ts';
export { findSimMeshStep } from './find-sim-mesh-step.ts';
export { fitToPlaces, fitToSkin } from './fit-to-skin.ts';
export { followBodyShape, type ShapedCharacter } from './follow-body-shape.ts';
export { listFreeSections } from './free-sections.ts';
export type { IntakeReport, ReportNote } from './intake-report.ts';
export { type FieldConflict, type MergedRecord, mergeRecords, mergeValues } from './merge/index.ts';
export { type MirroredBody, mirrorBodies } from './mirror-bodies.ts';
export { listFollowingBodies, placeBodies, placeBodyMeshes } from './place-bodies.ts';
export { createMap, ensureMap } from './put-map.ts';
export * from './records/index.ts';
