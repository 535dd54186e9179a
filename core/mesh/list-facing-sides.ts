import { buildEdgeTable, type EdgeTable, NO_TRIANGLE } from './edge-table.ts';
import { computeTriangleAreas } from './triangle-area.ts';

/** 1 for triangles that face as most of their piece does, by area; -1 for the others; of equal parts, the first is right. [t] */
export function listFacingSides(
  triangles: Uint32Array,
  positions: Float32Array,
  table = buildEdgeTable(triangles, positions.length / 3),
): Int8Array {
  const triangleCount = triangles.length / 3;
  const across = listAcross(triangles, table);
  const areas = computeTriangleAreas(positions, triangles);
  const side = new Int8Array(triangleCount);
  for (let start = 0; start < triangleCount; start++) {
    if (side[start] !== 0) continue;
    side[start] = 1;
    const piece = [start];
    let balance = 0;
    for (const t of piece) {
      balance += side[t]! * areas[t]!;
      for (let k = 3 * t; k < 3 * t + 3; k++) {
        const next = across.triangles[k]!;
        if (next === NO_TRIANGLE || side[next] !== 0) continue;
        side[next] = across.isAlike[k] ? side[t]! : -side[t]!;
        piece.push(next);
      }
    }
    if (balance < 0) for (const t of piece) side[t] = -side[t]!;
  }
  return side;
}

/** Of each side of each triangle: the only other triangle there, or NO_TRIANGLE, and whether the two are wound alike. [t, 3] */
function listAcross(
  triangles: Uint32Array,
  table: EdgeTable,
): { triangles: Int32Array; isAlike: Uint8Array } {
  const isCrowded = new Set(table.nonManifold);
  const others = new Int32Array(triangles.length).fill(NO_TRIANGLE);
  const isAlike = new Uint8Array(triangles.length);
  for (let e = 0; e < table.edgeCount; e++) {
    const [t, u] = [table.triangles[2 * e]!, table.triangles[2 * e + 1]!];
    if (u === NO_TRIANGLE || isCrowded.has(e)) continue;
    const [inFirst, inSecond] = [
      findSide(triangles, t, table.edges, e),
      findSide(triangles, u, table.edges, e),
    ];
    others[inFirst.at] = u;
    others[inSecond.at] = t;
    // The one runs along the edge, the other against it.
    isAlike[inFirst.at] = isAlike[inSecond.at] = inFirst.isForward === inSecond.isForward ? 0 : 1;
  }
  return { triangles: others, isAlike };
}

/** Where in the list the side of a triangle along an edge begins, and whether it runs from the lower point to the higher. */
function findSide(
  triangles: Uint32Array,
  t: number,
  edges: Uint32Array,
  e: number,
): { at: number; isForward: boolean } {
  const [a, b] = [edges[2 * e]!, edges[2 * e + 1]!];
  for (let k = 0; k < 3; k++) {
    const [from, to] = [triangles[3 * t + k]!, triangles[3 * t + ((k + 1) % 3)]!];
    if (from === a && to === b) return { at: 3 * t + k, isForward: true };
    if (from === b && to === a) return { at: 3 * t + k, isForward: false };
  }
  throw new Error(`triangle ${t} has no edge from point ${a} to ${b}`);
}
