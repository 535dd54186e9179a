import { measureSmallestAngles } from '../remesh/measure-surface.ts';
import { type CheckedMesh, toVertices } from './checked-mesh.ts';
import { findRim } from './find-rim.ts';
import { listThinFaces } from './find-thin-rows.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** Degrees. */
export const SLIVER_ANGLE = 4;

/** Faces with a corner sharper than the limit that are no part of a thin row or a rim. */
export function listSlivers(mesh: CheckedMesh): number[] {
  const angles = measureSmallestAngles({ positions: mesh.pointPositions, triangles: mesh.faces });
  const inRows = new Set(listThinFaces(mesh));
  const { isFace: isRim } = findRim(mesh);
  return Array.from(angles.keys()).filter((f) => angles[f]! < SLIVER_ANGLE && !inRows.has(f) && !isRim[f]);
}

/** Slivers, and triangles that name a place twice. */
export function findSlivers(mesh: CheckedMesh): MeshFinding | null {
  const slivers = listSlivers(mesh);
  const corners = slivers.flatMap((f) => [...mesh.faces.subarray(3 * f, 3 * f + 3)]);
  const angles = measureSmallestAngles({
    positions: mesh.pointPositions,
    triangles: Uint32Array.from(corners),
  });
  const collapsed = listCollapsed(mesh);
  const count = slivers.length + collapsed.length;
  if (count === 0) return null;
  const ofCollapsed = collapsed.map((t) => mesh.pointOfVertex[mesh.triangles[3 * t]!]!);
  return {
    kind: 'sliver',
    severity: 'severe',
    count,
    vertices: toVertices(mesh, [...corners, ...ofCollapsed]),
    measured: collapsed.length > 0 ? 0 : Math.min(...angles),
    limit: SLIVER_ANGLE,
    unit: '° smallest angle',
    sentence: `${count} triangles have no area or hardly any: they have no direction to bend about, and jitter.`,
    fix: 'dropFaces',
  };
}

function listCollapsed({ triangles, pointOfVertex }: CheckedMesh): number[] {
  return Array.from({ length: triangles.length / 3 }, (_, t) => t).filter((t) => {
    const [a, b, c] = [0, 1, 2].map((k) => pointOfVertex[triangles[3 * t + k]!]!);
    return a === b || b === c || c === a;
  });
}

/** Faces over the same three points as an earlier one. */
export function listDuplicateFaces({ faces }: Pick<CheckedMesh, 'faces'>): number[] {
  const seen = new Set<string>();
  const duplicates: number[] = [];
  for (let f = 0; f < faces.length / 3; f++) {
    const key = Array.from(faces.subarray(3 * f, 3 * f + 3))
      .sort((p, q) => p - q)
      .join();
    if (seen.has(key)) duplicates.push(f);
    seen.add(key);
  }
  return duplicates;
}

/** Triangles that lie on another; null without any. */
export function findDuplicateFaces(mesh: CheckedMesh): MeshFinding | null {
  const duplicates = listDuplicateFaces(mesh);
  if (duplicates.length === 0) return null;
  return {
    kind: 'duplicateFace',
    severity: 'severe',
    count: duplicates.length,
    vertices: toVertices(
      mesh,
      duplicates.flatMap((f) => [...mesh.faces.subarray(3 * f, 3 * f + 3)]),
    ),
    measured: duplicates.length,
    limit: 0,
    unit: 'triangles',
    sentence: `${duplicates.length} triangles lie on another with the same corners: the cloth is twice as stiff there.`,
    fix: 'dropFaces',
  };
}

/** Edges with more than two triangles that do not come from faces lying on one another. */
export function findNonManifoldEdges(mesh: CheckedMesh): MeshFinding | null {
  const duplicated = new Set<string>();
  for (const f of listDuplicateFaces(mesh)) {
    const corners = mesh.faces.subarray(3 * f, 3 * f + 3);
    for (let k = 0; k < 3; k++) duplicated.add(edgeName(corners[k]!, corners[(k + 1) % 3]!));
  }
  const { table } = mesh;
  const edges = Array.from(table.nonManifold).filter(
    (e) => !duplicated.has(edgeName(table.edges[2 * e]!, table.edges[2 * e + 1]!)),
  );
  if (edges.length === 0) return null;
  return {
    kind: 'nonManifoldEdge',
    severity: 'warning',
    count: edges.length,
    vertices: toVertices(
      mesh,
      edges.flatMap((e) => [table.edges[2 * e]!, table.edges[2 * e + 1]!]),
    ),
    measured: edges.length,
    limit: 0,
    unit: 'edges',
    sentence: `${edges.length} edges have three triangles or more: only two of them bend. Take the others apart in modelling.`,
    fix: null,
  };
}

function edgeName(a: number, b: number): string {
  return a < b ? `${a},${b}` : `${b},${a}`;
}
