import { NO_TRIANGLE } from '../edge-table.ts';
import { type CheckedMesh, toVertices } from './checked-mesh.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** Faces wound against the larger part of those that they are joined to over edges; of equal parts, the later. */
export function listFlippedFaces(mesh: CheckedMesh): number[] {
  const { faces, table, areas } = mesh;
  const across: [number, boolean][][] = Array.from({ length: areas.length }, () => []);
  const nonManifold = new Set(table.nonManifold);
  for (let e = 0; e < table.edgeCount; e++) {
    const [f, g] = [table.triangles[2 * e]!, table.triangles[2 * e + 1]!];
    if (g === NO_TRIANGLE || nonManifold.has(e)) continue;
    const isAlike = runsForward(faces, f, table.edges, e) !== runsForward(faces, g, table.edges, e);
    across[f]!.push([g, isAlike]);
    across[g]!.push([f, isAlike]);
  }
  const side = new Int8Array(areas.length);
  const groups: number[][] = [];
  for (let start = 0; start < areas.length; start++) {
    if (side[start] !== 0) continue;
    side[start] = 1;
    const group = [start];
    for (const f of group) {
      for (const [g, isAlike] of across[f]!) {
        if (side[g] !== 0) continue;
        side[g] = isAlike ? side[f]! : -side[f]!;
        group.push(g);
      }
    }
    groups.push(group);
  }
  return groups
    .flatMap((group) => {
      const area = (wanted: number): number =>
        group.reduce((sum, f) => sum + (side[f] === wanted ? areas[f]! : 0), 0);
      const minority = area(1) >= area(-1) ? -1 : 1;
      return group.filter((f) => side[f] === minority);
    })
    .sort((f, g) => f - g);
}

function runsForward(faces: Uint32Array, face: number, edges: Uint32Array, e: number): boolean {
  for (let k = 0; k < 3; k++) {
    if (faces[3 * face + k] === edges[2 * e]) return faces[3 * face + ((k + 1) % 3)] === edges[2 * e + 1];
  }
  return false;
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
