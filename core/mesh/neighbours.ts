import type { EdgeTable } from './edge-table.ts';

export interface Neighbours {
  /** [n + 1]: the neighbours of point i stand at `list[start[i]] … list[start[i + 1] - 1]`. */
  start: Uint32Array;
  list: Uint32Array;
}

/** Points joined by an edge, as one flat list. O(n + e). */
export function buildNeighbours(table: EdgeTable, pointCount: number): Neighbours {
  const start = new Uint32Array(pointCount + 1);
  for (let i = 0; i < table.edges.length; i++) start[table.edges[i]! + 1]!++;
  for (let i = 0; i < pointCount; i++) start[i + 1] = start[i + 1]! + start[i]!;
  const fill = start.slice();
  const list = new Uint32Array(table.edges.length);
  for (let e = 0; e < table.edgeCount; e++) {
    const a = table.edges[2 * e]!;
    const b = table.edges[2 * e + 1]!;
    list[fill[a]!++] = b;
    list[fill[b]!++] = a;
  }
  return { start, list };
}
