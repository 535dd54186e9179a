export { BodyDistances } from './body-distances.ts';
export {
  BODY_STRIDE,
  type BodyShape,
  createShapeField,
  getRoundShape,
  getShapeDefinition,
  growShape,
  isRoundBody,
  meetShape,
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
  type JointShape,
  type PlaneShape,
} from './collision-shape.ts';
export { convertShape, fitShape } from './convert-shape.ts';
export { type FittedCapsule, fitTaperedCapsule, measureFit } from './fit-tapered-capsule.ts';
export { computeHullPlanes, listHullTriangles } from './hull-planes.ts';
export { listBoxCorners } from './list-box-corners.ts';
export { carryToJoint, mirrorBody } from './mirror-body.ts';
export { moveWithSkin } from './move-with-skin.ts';
export { poseCapsules } from './pose-capsules.ts';
export {
  createPosedCollision,
  type PackedCollision,
  type PosedCollision,
  packCollision,
  poseCollision,
} from './pose-collision.ts';
export { reduceHull } from './reduce-hull.ts';
export { type CapsuleRow, refineCapsule } from './refine-capsule.ts';
export type { BoxBody } from './shapes/box.ts';
export { type HullBody, MOST_HULL_VERTICES } from './shapes/hull.ts';
export { PLANE_SHOWN, type PlaneBody } from './shapes/plane.ts';
export type { RoundShape } from './shapes/round-shape.ts';
export type { ShapeFrame, ShapeHandle, ShapeNumber } from './shapes/shape-definition.ts';
export { createShapeMap, type ShapeMap } from './shapes/shape-map.ts';
export { type CapsuleHit, createCapsuleHit, measureTaperedCapsule } from './tapered-capsule-distance.ts';
