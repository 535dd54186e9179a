import { listTouchingPoints } from '../touching-points.ts';
import { type CheckedMesh, toVertices } from './checked-mesh.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** Points in which parts meet that share no edge there; null without any. */
export function findTouchingPoints(mesh: CheckedMesh): MeshFinding | null {
  const points = listTouchingPoints(mesh.faces, mesh.pointCount);
  if (points.length === 0) return null;
  return {
    kind: 'touchingPoint',
    severity: 'warning',
    count: points.length,
    vertices: toVertices(mesh, points),
    measured: points.length,
    limit: 0,
    unit: 'points',
    sentence: `${points.length} vertices hold parts together that share no edge there: the cloth turns about them like a hinge of one thread.`,
    fix: null,
  };
}
