import { percentile } from '../math/index.ts';
import { buildEdgeTable } from './edge-table.ts';
import { measureDistance, measureLengths } from './measure-distance.ts';
import type { Surface } from './surface.ts';

/** Points nearer to each other than this share of the edges beside them are one: a seam that was rounded apart. */
const SAME_PLACE = 1e-4;

/**
 * Finds points that are the same but for rounding. Ours.
 *
 * @returns for each point the lowest of those that are the same as it, itself without any; and how many are another's. [n] O(n) expected.
 */
export function weldNear({ positions: p, triangles }: Surface): { first: Uint32Array; count: number } {
  const pointCount = p.length / 3;
  const first = Uint32Array.from({ length: pointCount }, (_, point) => point);
  const { spacings, usual } = measureSpacings(p, triangles, pointCount);
  const cell = SAME_PLACE * usual;
  if (!(cell > 0)) return { first, count: 0 };
  const cells = new Map<string, number[]>();
  let count = 0;
  for (let q = 0; q < pointCount; q++) {
    const at = [0, 1, 2].map((k) => Math.floor(p[3 * q + k]! / cell));
    const same = findSame(q, at);
    if (same >= 0) {
      first[q] = same;
      count++;
      continue;
    }
    const key = at.join();
    cells.set(key, [...(cells.get(key) ?? []), q]);
  }
  return { first, count };

  function findSame(q: number, at: readonly number[]): number {
    for (let i = 0; i < 27; i++) {
      const key = `${at[0]! + (i % 3) - 1},${at[1]! + (Math.floor(i / 3) % 3) - 1},${at[2]! + Math.floor(i / 9) - 1}`;
      for (const other of cells.get(key) ?? []) {
        const most = Math.min(cell, SAME_PLACE * Math.min(spacings[q]!, spacings[other]!));
        if (measureDistance(p, q, other) <= most) return other;
      }
    }
    return -1;
  }
}

/** Mean length of the edges of each point, and the median of all edges, m. */
function measureSpacings(
  p: Float32Array,
  triangles: Uint32Array,
  pointCount: number,
): { spacings: Float64Array; usual: number } {
  const table = buildEdgeTable(triangles, pointCount);
  const lengths = measureLengths(p, table);
  const [sums, counts] = [new Float64Array(pointCount), new Uint32Array(pointCount)];
  for (let e = 0; e < table.edgeCount; e++) {
    const [a, b] = [table.edges[2 * e]!, table.edges[2 * e + 1]!];
    for (const end of [a, b]) {
      sums[end] = sums[end]! + lengths[e]!;
      counts[end]!++;
    }
  }
  return {
    spacings: sums.map((sum, i) => (counts[i]! > 0 ? sum / counts[i]! : 0)),
    usual: lengths.length > 0 ? percentile(lengths, 0.5) : 0,
  };
}
