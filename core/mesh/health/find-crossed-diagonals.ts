import { NO_TRIANGLE } from '../edge-table.ts';
import { type CheckedMesh, toVertices } from './checked-mesh.ts';
import type { MeshFinding } from './mesh-finding.ts';
import { pairShells } from './pair-shells.ts';

/** Less paired than this, a garment has one side only. */
const LEAST_PAIRED = 0.2;

/**
 * Edges whose partners on the other side of a two-sided garment run across them: the same square, cut along the other
 * diagonal. The two sides then pass through each other when the square bends.
 *
 * @returns Edges of the mesh's table, one of each pair: those of the later points, taken for the inner side.
 */
export function listCrossedDiagonals(mesh: CheckedMesh): number[] {
  const partner = pairShells(mesh);
  if (partner.filter((q) => q >= 0).length < LEAST_PAIRED * mesh.pointCount) return [];
  const { table } = mesh;
  const edgeOf = new Map<string, number>();
  for (let e = 0; e < table.edgeCount; e++) edgeOf.set(`${table.edges[2 * e]},${table.edges[2 * e + 1]}`, e);
  const find = (a: number, b: number): number | undefined => edgeOf.get(a < b ? `${a},${b}` : `${b},${a}`);
  const crossed = new Set<number>();
  for (let e = 0; e < table.edgeCount; e++) {
    if (table.triangles[2 * e + 1] === NO_TRIANGLE) continue;
    const [a, b] = [table.edges[2 * e]!, table.edges[2 * e + 1]!];
    const [c, d] = [table.opposite[2 * e]!, table.opposite[2 * e + 1]!];
    const [pa, pb, pc, pd] = [a, b, c, d].map((point) => partner[point]!) as [number, number, number, number];
    // Along a rim a square may be its own partner.
    if (Math.min(pa, pb, pc, pd) < 0 || pa === c || pa === d || find(pa, pb) !== undefined) continue;
    const other = find(pc, pd);
    if (other === undefined) continue;
    crossed.add(a + b + c + d > pa + pb + pc + pd ? e : other);
  }
  return [...crossed].sort((e, f) => e - f);
}

/** Squares whose two sides are cut along different diagonals; null without any. */
export function findCrossedDiagonals(mesh: CheckedMesh): MeshFinding | null {
  const crossed = listCrossedDiagonals(mesh);
  if (crossed.length === 0) return null;
  const inner = mesh.table.edgeCount;
  return {
    kind: 'crossedDiagonal',
    severity: 'warning',
    count: crossed.length,
    vertices: toVertices(
      mesh,
      crossed.flatMap((e) => [mesh.table.edges[2 * e]!, mesh.table.edges[2 * e + 1]!]),
    ),
    measured: (100 * crossed.length) / inner,
    limit: 0,
    unit: '% of the edges',
    sentence: `${crossed.length} squares are cut along one diagonal outside and the other inside: the inside comes through when they bend.`,
    fix: 'alignDiagonals',
  };
}
