export { applyStep } from './apply-step.ts';
export { checkSection } from './check-section.ts';
export { checkShapes, type ShapeFit } from './check-shapes.ts';
export { type Coarsened, coarsenGarment, SurfaceCache } from './coarsen-garment.ts';
export { joinThinRows } from './join-thin-rows.ts';
export { makeArrays } from './make-arrays.ts';
export { mergeDisplacements, mergeWeights, type WeightEdits } from './merge-edits.ts';
export {
  Preparation,
  type Prepared,
  prepareCharacter,
  type StepFaults,
  type StepProblem,
} from './preparation.ts';
export { readSimEdge, type SimEdge } from './read-sim-edge.ts';
export { readSimSettings } from './read-sim-settings.ts';
export type { MatchState, SectionReview } from './review-sections.ts';
export { createHandMesh, type HandMesh, measureHold, smoothPositions } from './shape-by-hand.ts';
export type { BodyReview } from './transfer-bodies.ts';
export { transferChannel } from './transfer-channel.ts';
export { type SourceReview, type TransferredDocument, transferDocument } from './transfer-document.ts';
