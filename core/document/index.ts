export { computeBorderShare, listBodySections } from './body-sections.ts';
export type { CharacterSummary } from './character-summary.ts';
export { createGarment, type NewGarment } from './create-garment.ts';
export {
  applyDiff,
  applyPatch,
  createDiff,
  type DocumentDiff,
  type DocumentPatch,
  History,
  invertDiff,
  isEmptyDiff,
  mergeDiffs,
  openPatch,
  toPatch,
  toWholePatch,
  type WholeChange,
} from './diff/index.ts';
export { findSection } from './find-section.ts';
export { listFreeSections } from './free-sections.ts';
export type { IntakeReport, ReportNote } from './intake-report.ts';
export { createMap, ensureMap } from './put-map.ts';
export {
  type AuthoredDocument,
  type AuthoredRecord,
  type BodyRecord,
  type BodySetRecord,
  type ChannelRecord,
  completeRecord,
  createDocument,
  type FabricRecord,
  findChannel,
  GARMENT_DEFAULTS,
  type GarmentRecord,
  getScene,
  listBodies,
  listGarments,
  listMaps,
  listRecords,
  listSteps,
  type RecordId,
  type RecordType,
  SCENE_DEFAULTS,
  SCENE_ID,
  type SceneRecord,
  type SectionName,
  type StepAct,
  type StepKind,
  type StepRecord,
} from './records.ts';
