import { composeMatrix, invertAffine, multiplyMatrices } from '../math/index.ts';
import type { Pose } from './pose.ts';

/** A turn of a joint beside its clip, to try how a garment follows. */
export interface JointTurn {
  node: number;
  /** About the joint's own axes x, then y, then z, rad. */
  angles: readonly [number, number, number];
}

/**
 * Turns joints of a pose about themselves, with all that hangs below them. Only world matrices change; of the bind pose
 * too, which has no local transforms of its own.
 */
export function turnJoints(pose: Pose, turns: readonly JointTurn[]): void {
  const { parents } = pose.skeleton;
  const { worldMatrices } = pose;
  const [turn, inverse, displacement, moved] = Array.from({ length: 4 }, () => new Float64Array(16));
  for (const { node, angles } of turns) {
    composeMatrix(turn!, 0, [0, 0, 0], 0, toQuaternion(angles), 0, [1, 1, 1], 0);
    if (!invertAffine(inverse!, 0, worldMatrices, 16 * node)) continue;
    // From the world into the joint, turned, and back.
    multiplyMatrices(displacement!, 0, turn!, 0, inverse!, 0);
    multiplyMatrices(moved!, 0, worldMatrices, 16 * node, displacement!, 0);
    const isBelow = new Uint8Array(parents.length);
    for (let n = node; n < parents.length; n++) {
      isBelow[n] = n === node || (parents[n]! >= 0 && isBelow[parents[n]!]) ? 1 : 0;
      if (!isBelow[n]) continue;
      multiplyMatrices(turn!, 0, moved!, 0, worldMatrices, 16 * n);
      worldMatrices.set(turn!, 16 * n);
    }
  }
}

/** x, then y, then z about the turned axes. */
function toQuaternion([x, y, z]: readonly [number, number, number]): [number, number, number, number] {
  const [cx, cy, cz] = [Math.cos(x / 2), Math.cos(y / 2), Math.cos(z / 2)];
  const [sx, sy, sz] = [Math.sin(x / 2), Math.sin(y / 2), Math.sin(z / 2)];
  return [
    sx * cy * cz + cx * sy * sz,
    cx * sy * cz - sx * cy * sz,
    cx * cy * sz + sx * sy * cz,
    cx * cy * cz - sx * sy * sz,
  ];
}
