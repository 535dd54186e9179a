export {
  BODY_STRIDE,
  type BodyShape,
  createShapeField,
  getRoundShape,
  type JointShape,
  packBodies,
  SHAPE_KINDS,
  SHAPES,
  type ShapeKind,
  scaleShape,
} from './body-shape.ts';
export {
  ALL_GROUPS,
  type BoxShape,
  type CollisionShape,
  FIRST_GROUP,
  type HullShape,
  isRound,
  type PlaneShape,
} from './collision-shape.ts';
export { type FittedCapsule, fitTaperedCapsule, measureFit } from './fit-tapered-capsule.ts';
export { poseCapsules } from './pose-capsules.ts';
export {
  createPosedCollision,
  type PackedCollision,
  type PosedCollision,
  packCollision,
  poseCollision,
} from './pose-collision.ts';
export { mirrorBody, type SuggestedBody, type SuggestOptions, suggestBodies } from './suggest-bodies.ts';
export { type CapsuleHit, createCapsuleHit, measureTaperedCapsule } from './tapered-capsule-distance.ts';
