import type { CheckedMesh } from '../mesh/index.ts';
import { createVertexEdits, type VertexEdits } from '../steps/index.ts';

/**
 * Ways of points, added to those of an earlier step over the same points; without one they stand by themselves.
 *
 * @param mesh - The section as it was before the ways. @param ways - m, world space of the bind pose, [points, 3].
 */
export function mergeDisplacements(
  known: VertexEdits | null,
  mesh: Pick<CheckedMesh, 'pointPositions' | 'faces'>,
  displacements: Float32Array,
): VertexEdits {
  const isKnown = known !== null && 3 * known.isSet.length === displacements.length;
  const work = isKnown
    ? { ...known, isSet: known.isSet.slice(), values: known.values.slice() }
    : createVertexEdits(mesh, 3);
  for (let i = 0; i < displacements.length; i++) {
    if (displacements[i] === 0) continue;
    work.values[i] = work.values[i]! + displacements[i]!;
    work.isSet[Math.floor(i / 3)] = 1;
  }
  return work;
}

export interface WeightEdits {
  work: VertexEdits;
  /** Of the columns of the handwork. */
  joints: readonly string[];
}

/**
 * Weights set at some points, put over those of an earlier step over the same points.
 *
 * @param dense - Weights of all points as they are now, [points, joints]. @param jointNames - Of its columns.
 * @param points - Those that were set.
 */
export function mergeWeights(
  known: WeightEdits | null,
  mesh: Pick<CheckedMesh, 'pointPositions' | 'faces'>,
  dense: Float32Array,
  jointNames: readonly string[],
  points: Iterable<number>,
): WeightEdits {
  const count = mesh.pointPositions.length / 3;
  const earlier = known?.work.isSet.length === count ? known : null;
  const isSet = earlier ? earlier.work.isSet.slice() : new Uint8Array(count);
  for (const point of points) isSet[point] = 1;
  const all = jointNames.length;
  const joints = jointNames.filter((_, j) =>
    isSet.some((one, point) => one !== 0 && dense[all * point + j]! > 0),
  );
  const columns = joints.map((name) => jointNames.indexOf(name));
  const work = { ...createVertexEdits(mesh, joints.length), isSet };
  isSet.forEach((one, point) => {
    if (!one) return;
    columns.forEach((column, k) => {
      work.values[joints.length * point + k] = dense[all * point + column]!;
    });
  });
  return { work, joints };
}
