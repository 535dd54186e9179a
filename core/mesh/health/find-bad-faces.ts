import { tellCount } from '../../math/index.ts';
import { buildEdgeTable, type EdgeTable } from '../edge-table.ts';
import { dropDuplicateFaces, listDuplicateFaces } from '../list-duplicate-faces.ts';
import { measureSmallestAngles } from '../remesh/measure-surface.ts';
import { type CheckedMesh, toVertices } from './checked-mesh.ts';
import { findRim } from './find-rim.ts';
import { listThinFaces } from './find-thin-rows.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** Faces with a corner sharper than the limit that are no part of a thin row or a rim. */
export function listSlivers(mesh: CheckedMesh): number[] {
  const angles = measureSmallestAngles({ positions: mesh.pointPositions, triangles: mesh.faces });
  const limit = Math.max(mesh.limits.sliverAngle, mesh.limits.severeSliverAngle);
  const inRows = new Set(listThinFaces(mesh));
  const { isFace: isRim } = findRim(mesh);
  return Array.from(angles.keys()).filter((f) => angles[f]! < limit && !inRows.has(f) && !isRim[f]);
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
  const measured = collapsed.length > 0 ? 0 : Math.min(...angles);
  const { sliverAngle, severeSliverAngle } = mesh.limits;
  const isSevere = measured < severeSliverAngle;
  return {
    kind: 'sliver',
    severity: isSevere ? 'severe' : 'warning',
    count,
    vertices: toVertices(mesh, [...corners, ...ofCollapsed]),
    measured,
    limit: isSevere ? severeSliverAngle : sliverAngle,
    unit: '° smallest angle',
    sentence: isSevere
      ? `${tellCount(count, 'triangle')} without an area, or with hardly any: there is no direction to bend about, and the cloth jitters.`
      : `${tellCount(count, 'thin triangle')}: the cloth bends stiffly there.`,
    fix: 'dropFaces',
  };
}

function listCollapsed({ triangles, pointOfVertex }: CheckedMesh): number[] {
  return Array.from({ length: triangles.length / 3 }, (_, t) => t).filter((t) => {
    const [a, b, c] = [0, 1, 2].map((k) => pointOfVertex[triangles[3 * t + k]!]!);
    return a === b || b === c || c === a;
  });
}

/** Triangles that lie on another; null without any. */
export function findDuplicateFaces(mesh: CheckedMesh): MeshFinding | null {
  const duplicates = listDuplicateFaces(mesh.faces);
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

/** Edges with more than two triangles; faces that lie on one another count once. */
export function findNonManifoldEdges(mesh: CheckedMesh): MeshFinding | null {
  const table = buildTableOfSingle(mesh);
  const edges = Array.from(table.nonManifold);
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

function buildTableOfSingle({ faces, table, pointCount }: CheckedMesh): EdgeTable {
  if (table.nonManifold.length === 0) return table;
  const single = dropDuplicateFaces(faces);
  return single === faces ? table : buildEdgeTable(single, pointCount);
}
