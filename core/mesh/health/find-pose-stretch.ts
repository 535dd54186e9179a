import { percentile } from '../../math/index.ts';
import { measureLengths } from '../measure-distance.ts';
import { type CheckedMesh, toVertices } from './checked-mesh.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** Cloth that is pressed together folds, as a poncho does under lowered arms; what is stretched has nowhere to go. */
const PRESSED_SHARE = 1 / 3;

/**
 * Stretch that is there before anything moves: the garment was bound in one pose and is delivered in another. Pressing counts by a third. Of
 * the poses that it plays in the mildest counts, so that one wild clip does not trip it.
 */
export function findPoseStretch(mesh: CheckedMesh): MeshFinding | null {
  let mildest: { name: string; strains: Float32Array; share: number } | null = null;
  const measureIn = (positions: Float32Array): Float32Array => {
    const ofPoints = new Float32Array(3 * mesh.pointCount);
    mesh.vertexOfPoint.forEach((vertex, point) => {
      ofPoints.set(positions.subarray(3 * vertex, 3 * vertex + 3), 3 * point);
    });
    return measureLengths(ofPoints, mesh.table);
  };
  const atRest = mesh.rest ? measureIn(mesh.rest) : mesh.lengths;
  for (const { name, positions } of mesh.poses ?? []) {
    const strains = measureIn(positions).map((length, e) => {
      const strain = atRest[e]! > 0 ? length / atRest[e]! - 1 : 0;
      return strain > 0 ? strain : -PRESSED_SHARE * strain;
    });
    const share = percentile(strains, 0.95);
    if (!mildest || share < mildest.share) mildest = { name, strains, share };
  }
  const { poseStretch } = mesh.limits;
  const limit = poseStretch / 100;
  if (!mildest || mildest.share <= limit) return null;
  const { edges } = mesh.table;
  const stretched = Array.from(mildest.strains.keys()).filter((e) => mildest.strains[e]! > limit);
  return {
    kind: 'poseStretch',
    severity: 'warning',
    count: stretched.length,
    vertices: toVertices(
      mesh,
      stretched.flatMap((e) => [edges[2 * e]!, edges[2 * e + 1]!]),
    ),
    measured: 100 * mildest.share,
    limit: poseStretch,
    unit: '% strain at the worst twentieth',
    sentence: `${stretched.length} edges are stretched by more than ${poseStretch} %, or pressed by more than ${Math.round(poseStretch / PRESSED_SHARE)} %, in the pose it plays in ("${mildest.name}") before anything moves.`,
    fix: 'restInPose',
  };
}
