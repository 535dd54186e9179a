import type { CheckedMesh } from './checked-mesh.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** Vertices that came without weights and still have none of their own; null without any. */
export function findWeightless({ weightless, triangles }: CheckedMesh): MeshFinding | null {
  if (!weightless) return null;
  const used = new Set(triangles);
  const vertices = Array.from(weightless.keys()).filter((v) => weightless[v] !== 0 && used.has(v));
  if (vertices.length === 0) return null;
  return {
    kind: 'weightless',
    severity: 'severe',
    count: vertices.length,
    vertices: Uint32Array.from(vertices),
    measured: vertices.length,
    limit: 0,
    unit: 'vertices',
    sentence: `${vertices.length} vertices came without weights: they stay with the first joint of the skin and tear off the rest. Paint them, or take the weights from the body.`,
    fix: null,
  };
}
