import { NO_TRIANGLE } from '../edge-table.ts';
import { measureDistance } from '../measure-distance.ts';
import { type CheckedMesh, toVertices } from './checked-mesh.ts';
import { findRim } from './find-rim.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** A row this much narrower than the usual edge is thin. */
export const THIN_SHARE = 0.3;
/** Triangles of a row, at least: one or two alone are slivers. */
const LEAST_FACES = 6;

/**
 * Faces in rows of triangles that are much narrower than the mesh is spaced, and much longer than they are narrow:
 * hems, piping, a row that was doubled. @param skipsRim - Without the rim of a two-sided garment.
 */
export function listThinFaces(mesh: CheckedMesh, skipsRim = true): number[] {
  const { pointPositions: positions, faces, areas, spacing, table } = mesh;
  const isThin = new Uint8Array(areas.length);
  const rim = skipsRim ? findRim(mesh) : null;
  for (let f = 0; f < areas.length; f++) {
    const [a, b, c] = [faces[3 * f]!, faces[3 * f + 1]!, faces[3 * f + 2]!];
    const sides = [
      measureDistance(positions, a, b),
      measureDistance(positions, b, c),
      measureDistance(positions, c, a),
    ];
    const longest = Math.max(...sides);
    const height = longest > 0 ? (2 * areas[f]!) / longest : 0;
    isThin[f] =
      !rim?.isFace[f] && height > 0 && height < THIN_SHARE * spacing && longest > 3 * height ? 1 : 0;
  }
  return listLargeGroups(isThin, table.triangles);
}

/** Marked faces in groups, joined over edges, of at least the least number. */
function listLargeGroups(isMarked: Uint8Array, facesOfEdge: Int32Array): number[] {
  const across: number[][] = Array.from({ length: isMarked.length }, () => []);
  for (let e = 0; e < facesOfEdge.length; e += 2) {
    const [f, g] = [facesOfEdge[e]!, facesOfEdge[e + 1]!];
    if (g === NO_TRIANGLE || !isMarked[f] || !isMarked[g]) continue;
    across[f]!.push(g);
    across[g]!.push(f);
  }
  const found: number[] = [];
  const seen = new Uint8Array(isMarked.length);
  for (let start = 0; start < isMarked.length; start++) {
    if (!isMarked[start] || seen[start]) continue;
    const group = [start];
    seen[start] = 1;
    for (const f of group) {
      for (const g of across[f]!) {
        if (seen[g]) continue;
        seen[g] = 1;
        group.push(g);
      }
    }
    if (group.length >= LEAST_FACES) found.push(...group);
  }
  return found.sort((f, g) => f - g);
}

/** Rows of triangles much narrower than those around; null without any. */
export function findThinRows(mesh: CheckedMesh): MeshFinding | null {
  const thin = listThinFaces(mesh);
  if (thin.length === 0) return null;
  const heights = thin.map((f) => {
    const [a, b, c] = [0, 1, 2].map((k) => mesh.faces[3 * f + k]!) as [number, number, number];
    const { pointPositions: positions } = mesh;
    const longest = Math.max(
      measureDistance(positions, a, b),
      measureDistance(positions, b, c),
      measureDistance(positions, c, a),
    );
    return (2 * mesh.areas[f]!) / longest;
  });
  return {
    kind: 'thinRow',
    severity: 'warning',
    count: thin.length,
    vertices: toVertices(
      mesh,
      thin.flatMap((f) => [...mesh.faces.subarray(3 * f, 3 * f + 3)]),
    ),
    measured: 1000 * Math.min(...heights),
    limit: 1000 * THIN_SHARE * mesh.spacing,
    unit: 'mm wide',
    sentence: `${thin.length} triangles form thin rows, which fold onto themselves and cost as much as wide ones.`,
    fix: 'joinRows',
  };
}
