import type { RoundShape } from './shapes/round-shape.ts';

/** A round shape on a joint, by its place in the skeleton. */
export interface JointShape extends RoundShape {
  node: number;
}

/** A box on a joint, in the joint's space: turned by a unit quaternion (xyzw). Metres. */
export interface BoxShape {
  kind: 'box';
  node: number;
  centre: [number, number, number];
  rotation: [number, number, number, number];
  halfSize: [number, number, number];
}

/** The convex hull of points on a joint, in the joint's space, [n, 3]. Metres. */
export interface HullShape {
  kind: 'hull';
  node: number;
  points: Float32Array;
}

/** Everything behind a plane on a joint; the unit normal points out of it. Metres. */
export interface PlaneShape {
  kind: 'plane';
  node: number;
  point: [number, number, number];
  normal: [number, number, number];
}

/**
 * Everything that cloth can be kept out of by a formula. A garment feels the shapes that share a collision group with
 * it; shapes and garments without groups share the first.
 */
export type CollisionShape = (JointShape | BoxShape | HullShape | PlaneShape) & {
  /** Bit mask of groups. Default 1. */
  groups?: number;
  /** Who it is, for what tells of single bodies. */
  id?: string;
  /** Added all around, metres in the joint's space. Default 0. */
  margin?: number;
};

export const FIRST_GROUP = 1;
export const ALL_GROUPS = 0xffffffff;

/** Whether a shape is a sphere, a capsule or a tapered capsule: what the solver meets by one formula. */
export function isRound<S extends CollisionShape>(shape: S): shape is S & JointShape {
  return shape.kind === 'sphere' || shape.kind === 'capsule' || shape.kind === 'taperedCapsule';
}
