import { invertAffine, multiplyMatrices } from '../math/index.ts';
import { type Character, mirrorName, type Pose } from '../rig/index.ts';
import { type BodyShape, getShapeDefinition } from './body-shape.ts';
import { createShapeMap } from './shapes/shape-map.ts';

/**
 * The shape of a joint, mirrored about x = 0 onto the joint of the other side; null without one, or when that is flattened.
 * @param pose - In bind pose.
 */
export function mirrorBody<S extends BodyShape & { node: number }>(
  character: Character,
  pose: Pose,
  body: S,
): S | null {
  const otherName = mirrorName(character.skeleton.names[body.node]!);
  const other = otherName === null ? -1 : character.skeleton.names.indexOf(otherName);
  if (other < 0) return null;
  const shape = carryToJoint(pose, body, other, MIRROR);
  return shape && { ...shape, node: other };
}

const MIRROR = Float64Array.of(-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);

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
