import { listFacingSides } from '../list-facing-sides.ts';
import { type CheckedMesh, toVertices } from './checked-mesh.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** Faces wound against the larger part of those that they are joined to over edges; of equal parts, the later. */
export function listFlippedFaces({ faces, pointPositions, table }: CheckedMesh): number[] {
  const flipped: number[] = [];
  listFacingSides(faces, pointPositions, table).forEach((side, f) => {
    if (side < 0) flipped.push(f);
  });
  return flipped;
}

/** Triangles that face the other way than most of their piece; null without any. */
export function findFlippedFaces(mesh: CheckedMesh): MeshFinding | null {
  const flipped = listFlippedFaces(mesh);
  if (flipped.length === 0) return null;
  return {
    kind: 'flippedFace',
    severity: 'severe',
    count: flipped.length,
    vertices: toVertices(
      mesh,
      flipped.flatMap((f) => [...mesh.faces.subarray(3 * f, 3 * f + 3)]),
    ),
    measured: flipped.length,
    limit: 0,
    unit: 'triangles',
    sentence: `${flipped.length} triangles face the other way than those around them: wind, folds and inward limits go wrong there.`,
    fix: 'turnFaces',
  };
}
