import { DisjointSets } from '../../math/index.ts';
import { listBorderPoints } from '../edge-table.ts';
import { measureDistance } from '../measure-distance.ts';
import { buildNeighbours } from '../neighbours.ts';
import { type CheckedMesh, toVertices } from './checked-mesh.ts';
import type { MeshFinding } from './mesh-finding.ts';

/** Border points closer than this share of the spacing were meant to be one. */
const SEAM_GAP = 0.06;

/**
 * Groups of border points that lie together without being joined: what a seam becomes when an export rounds its two
 * sides apart. Points joined by an edge are not a seam but a short edge.
 *
 * @returns Groups of two or more points, in order.
 */
export function groupSeamPoints(mesh: CheckedMesh): number[][] {
  const { table, pointPositions: positions, pointCount, spacing } = mesh;
  const tolerance = SEAM_GAP * spacing;
  const border = listBorderPoints(table);
  const neighbours = buildNeighbours(table, pointCount);
  const cells = new Map<string, number[]>();
  const cellOf = (point: number, k: number): number => Math.floor(positions[3 * point + k]! / tolerance);
  const sets = new DisjointSets(pointCount);
  for (const point of border) {
    const [x, y, z] = [cellOf(point, 0), cellOf(point, 1), cellOf(point, 2)];
    const near = neighbours.list.subarray(neighbours.start[point]!, neighbours.start[point + 1]!);
    for (let i = 0; i < 27; i++) {
      const key = `${x + (i % 3) - 1},${y + (Math.floor(i / 3) % 3) - 1},${z + Math.floor(i / 9) - 1}`;
      for (const other of cells.get(key) ?? []) {
        if (near.includes(other) || measureDistance(positions, point, other) > tolerance) continue;
        sets.join(point, other);
      }
    }
    const key = `${x},${y},${z}`;
    cells.set(key, [...(cells.get(key) ?? []), point]);
  }
  const groups = new Map<number, number[]>();
  for (const point of border) {
    const group = sets.find(point);
    groups.set(group, [...(groups.get(group) ?? []), point]);
  }
  return [...groups.values()].filter((members) => members.length > 1);
}

/** Borders that lie on each other without being joined; null without any. */
export function findUnweldedSeams(mesh: CheckedMesh): MeshFinding | null {
  const groups = groupSeamPoints(mesh);
  if (groups.length === 0) return null;
  const widest = Math.max(
    ...groups.map(([first, ...rest]) =>
      Math.max(...rest.map((p) => measureDistance(mesh.pointPositions, first!, p))),
    ),
  );
  return {
    kind: 'unweldedSeam',
    severity: 'severe',
    count: groups.length,
    vertices: toVertices(mesh, groups.flat()),
    measured: 1000 * widest,
    limit: 0,
    unit: 'mm apart at most',
    sentence: `${groups.length} seam vertices lie together but are not welded: the garment falls apart there.`,
    fix: 'weld',
  };
}
