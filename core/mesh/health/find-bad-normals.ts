import type { CheckedMesh } from './checked-mesh.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** A normal may differ from length one by so much: as much as rounding each part to eight bits does. */
const TOLERANCE = 7e-3;

/** Vertices whose normal is not of length one. @param normals - [n, 3] */
export function listBadNormals(normals: Float32Array): number[] {
  return Array.from({ length: normals.length / 3 }, (_, v) => v).filter((v) => {
    const length = Math.hypot(normals[3 * v]!, normals[3 * v + 1]!, normals[3 * v + 2]!);
    return !(Math.abs(length - 1) <= TOLERANCE);
  });
}

/** Normals that are zero or not of length one, of vertices that a triangle uses; null without any. */
export function findBadNormals({ normals, triangles }: CheckedMesh): MeshFinding | null {
  if (!normals) return null;
  const used = new Set(triangles);
  const bad = listBadNormals(normals).filter((v) => used.has(v));
  if (bad.length === 0) return null;
  // What is no number points nowhere, too.
  const lengths = bad.map((v) => Math.hypot(...normals.subarray(3 * v, 3 * v + 3)) || 0);
  const worst = lengths.reduce((p, q) => (Math.abs(q - 1) > Math.abs(p - 1) ? q : p));
  const zero = lengths.filter((length) => !(length > TOLERANCE)).length;
  const told = zero > 0 ? `${zero} of them point nowhere` : 'none of them is zero';
  return {
    kind: 'badNormal',
    severity: 'warning',
    count: bad.length,
    vertices: Uint32Array.from(bad),
    measured: worst,
    limit: 1,
    unit: 'long',
    sentence: `${bad.length} normals are not of length one, ${told}: light falls wrongly there, and an engine may refuse them.`,
    fix: 'mendNormals',
  };
}
