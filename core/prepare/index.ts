export { applyStep } from './apply-step.ts';
export type { BodyReview } from './carry-bodies.ts';
export { carryChannel } from './carry-channel.ts';
export { type CarriedDocument, carryDocument, type SourceReview } from './carry-document.ts';
export { checkSection } from './check-section.ts';
export { checkShapes, type ShapeFit } from './check-shapes.ts';
export { chooseSectionName } from './choose-section-name.ts';
export { createHandwork, type Handwork, packHandwork, readHandwork, unpackHandwork } from './handwork.ts';
export { makeSurfaces } from './make-surfaces.ts';
export { mergeWays, mergeWeights, type WeightWork } from './merge-handwork.ts';
export { Preparation, type Prepared, prepareCharacter, type StepProblem } from './preparation.ts';
export { resampleSection } from './resample-section.ts';
export type { MatchState, SectionReview } from './review-sections.ts';
export { createSectionMesh, replaceSection } from './section-mesh.ts';
export { createHandMesh, type HandMesh, measureHold, smoothPlaces } from './shape-by-hand.ts';
export { packPicked } from './steps/cut-section.ts';
export { joinSections, listJointNames, transferWeights, type WeightTransfer } from './steps/edit-weights.ts';
export { makeCardSurface } from './steps/make-card.ts';
export {
  collectOuterSurface,
  createSimSection,
  makeSimSurface,
  packSurface,
  type SimMeshSettings,
  unpackSurface,
} from './steps/make-sim-mesh.ts';
export { movePoints, refreshNormals } from './steps/move-points.ts';
export type { RimShape } from './steps/thicken.ts';
export { transferMorphs } from './steps/transfer-morphs.ts';
