export { createBodyField, MOST_SUNK } from './body-field.ts';
export { chooseSectionName } from './choose-section-name.ts';
export {
  collectOuterSurface,
  judgeSectionSides,
  type OuterSurface,
  SIDES,
  type Sides,
} from './collect-outer-surface.ts';
export { collectSkin } from './collect-skin.ts';
export { packPicked } from './cut.ts';
export { editWeights, listJointNames } from './edit-weights.ts';
export { joinSections } from './join-sections.ts';
export { packLiningMaps } from './lining-maps.ts';
export { type BodyMeshSettings, makeBodySurface } from './make-body-mesh.ts';
export { makeCardSurface } from './make-card.ts';
export { makeSimSurface, type SimSurfaceSettings } from './make-sim-mesh.ts';
export { movePoints, refreshNormals } from './move-points.ts';
export { packSurface, unpackSurface } from './pack-surface.ts';
export { resampleSection } from './resample-section.ts';
export { createHealthInput, createSectionMesh, replaceSection } from './section-mesh.ts';
export { addSimSection, createSimSection } from './sim-section.ts';
export type { StepContext, StepResult } from './step-definition.ts';
export { sectionField, sectionIndexField, sectionNameField, sectionsField } from './step-fields.ts';
export {
  applyAct,
  describeAct,
  getActSchema,
  hasMadeArray,
  isOfWhole,
  isSimMeshStep,
  isStepKind,
  listOthers,
  makeArrayOf,
  renameOthers,
  STEP_KINDS,
  type StepAct,
  type StepKind,
} from './steps.ts';
export type { RimShape } from './thicken.ts';
export { transferMorphs } from './transfer-morphs.ts';
export { transferWeights, type WeightTransfer } from './transfer-weights.ts';
export {
  createVertexEdits,
  packVertexEdits,
  readVertexEdits,
  unpackVertexEdits,
  type VertexEdits,
} from './vertex-edits.ts';
