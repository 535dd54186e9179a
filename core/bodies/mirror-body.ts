import { invertAffine, multiplyMatrices } from '../math/index.ts';
import {
  type Character,
  findMirrorPlane,
  mirrorName,
  type Pose,
  type SidePair,
  toReflection,
} from '../rig/index.ts';
import { type BodyShape, getShapeDefinition } from './body-shape.ts';
import { createShapeMap } from './shapes/shape-map.ts';

/** About x = 0, where no pair of joints tells of another plane. */
const SIDEWAYS = toReflection({ point: [0, 0, 0], normal: [1, 0, 0] });

/**
 * The shape of a joint, mirrored onto the joint of the other side; of a joint without a side, onto the joint itself. Mirrored about the
 * plane between the joints of left and right, or x = 0 where they do not tell of one.
 *
 * @param pose - In bind pose. @param pairs - See `mirrorName`. @returns Null when that joint is flattened.
 */
export function mirrorBody<S extends BodyShape & { node: number }>(
  character: Character,
  pose: Pose,
  body: S,
  pairs?: readonly SidePair[],
): S | null {
  const { skeleton } = character;
  const otherName = mirrorName(skeleton.names[body.node]!, pairs);
  const other = otherName === null ? -1 : skeleton.names.indexOf(otherName);
  const plane = findMirrorPlane(skeleton, pose.worldMatrices, pairs);
  return carryToJoint(pose, body, other < 0 ? body.node : other, plane ? toReflection(plane) : SIDEWAYS);
}

/**
 * A shape in the space of another joint, in the same place of the world.
 * @param through - What happens to it in the world on the way, [16]. @returns Null when that joint is flattened.
 */
export function carryToJoint<S extends BodyShape & { node: number }>(
  pose: Pose,
  body: S,
  node: number,
  through: Float64Array | null = null,
): S | null {
  const map = new Float64Array(16);
  if (!invertAffine(map, 0, pose.worldMatrices, 16 * node)) return null;
  if (through) multiplyMatrices(map, 0, map.slice(), 0, through, 0);
  multiplyMatrices(map, 0, map.slice(), 0, pose.worldMatrices, 16 * body.node);
  const { node: _node, ...shape } = body;
  const carried = getShapeDefinition(shape as unknown as S).carry(shape as unknown as S, createShapeMap(map));
  return { ...carried, node };
}
