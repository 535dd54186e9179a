export {
  ALL_BODY_GROUPS,
  BODY_DEFAULTS,
  type BodyRecord,
  GROUP_COUNT,
  groupBit,
  MOST_MARGIN,
} from './body.ts';
export type { BodyMeshRecord } from './body-mesh.ts';
export { BODY_FOLLOWS, BODY_SET_DEFAULTS, type BodyFollows, type BodySetRecord } from './body-set.ts';
export type { ChannelRecord } from './channel.ts';
export type { FabricRecord } from './fabric.ts';
export { areClear, GARMENT_DEFAULTS, type GarmentRecord } from './garment.ts';
export {
  fabricAtLevel,
  type GarmentLevel,
  LEVEL_EDGES,
  LEVEL_PIXELS,
  LEVEL_RATES,
  LEVEL_SUBSTEPS,
  type LevelRate,
  LONGEST_LEVEL_SWITCH,
  levelsField,
  MOST_LEVELS,
  PLAIN_LEVEL,
} from './level.ts';
export { LIMITED_MEASURES, type Limits, limitsField, type MeasureKey } from './limits.ts';
export type { BaseRecord, RecordFacts, RecordId } from './record-definition.ts';
export {
  type AuthoredRecord,
  checkRecord,
  countRecords,
  DOCUMENT_VERSION,
  listChangedFields,
  listReferences,
  mayHaveArray,
  RECORD_TYPES,
  RECORDS,
  type RecordType,
  raiseRecord,
  recordField,
  tellRecord,
} from './registry.ts';
export { SCENE_DEFAULTS, SCENE_ID, type SceneRecord } from './scene.ts';
export type { StepRecord } from './step.ts';
