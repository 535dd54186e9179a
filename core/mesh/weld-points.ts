import { checkLength } from '../math/index.ts';

/** A welded vertex of a section by its number: what maps, picks and findings count by. Not the solver's order, see `SolverIndex`. */
export type WeldedIndex = number & { readonly brand: 'WeldedIndex' };

export interface PointMap {
  pointCount: number;
  /** vertex → point, [n]. */
  pointOfVertex: Uint32Array;
  /** point → its first vertex, [pointCount]. */
  vertexOfPoint: Uint32Array;
}

/**
 * Groups render vertices that share a place into points: a seam in UV or normals doubles vertices, not cloth.
 *
 * @param positions - [n, 3] metres. Places are equal when the three floats are equal (0 equals -0).
 * @returns Points in the order of their first vertices, so that the result depends on the file alone.
 *
 * O(n) expected; open addressing on a hash of the bits.
 */
export function weldPoints(positions: Float32Array): PointMap {
  const vertexCount = positions.length / 3;
  checkLength('positions', positions, Math.floor(vertexCount) * 3);
  // Adding 0 turns -0 into 0; the copy is what makes the bit pattern unique.
  const exact = positions.map((value) => value + 0);
  const bits = new Uint32Array(exact.buffer);
  let capacity = 16;
  while (capacity < vertexCount * 2) capacity *= 2;
  const table = new Int32Array(capacity).fill(-1);
  const pointOfVertex = new Uint32Array(vertexCount);
  const vertexOfPoint = new Uint32Array(vertexCount);
  let pointCount = 0;
  for (let vertex = 0; vertex < vertexCount; vertex++) {
    const x = bits[3 * vertex]!;
    const y = bits[3 * vertex + 1]!;
    const z = bits[3 * vertex + 2]!;
    let hash = Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca6b) ^ Math.imul(z, 0xc2b2ae35);
    hash = Math.imul(hash ^ (hash >>> 15), 0x2c1b3c6d);
    let slot = (hash ^ (hash >>> 13)) & (capacity - 1);
    for (;;) {
      const point = table[slot]!;
      if (point < 0) {
        table[slot] = pointCount;
        vertexOfPoint[pointCount] = vertex;
        pointOfVertex[vertex] = pointCount++;
        break;
      }
      const other = 3 * vertexOfPoint[point]!;
      if (bits[other] === x && bits[other + 1] === y && bits[other + 2] === z) {
        pointOfVertex[vertex] = point;
        break;
      }
      slot = (slot + 1) & (capacity - 1);
    }
  }
  return { pointCount, pointOfVertex, vertexOfPoint: vertexOfPoint.slice(0, pointCount) };
}

/** Triangles over points: indices mapped, triangles that collapse dropped. @returns [t', 3]. */
export function weldTriangles(triangles: Uint32Array, pointOfVertex: Uint32Array): Uint32Array {
  const welded = new Uint32Array(triangles.length);
  let length = 0;
  for (let i = 0; i < triangles.length; i += 3) {
    const a = pointOfVertex[triangles[i]!]!;
    const b = pointOfVertex[triangles[i + 1]!]!;
    const c = pointOfVertex[triangles[i + 2]!]!;
    if (a === b || b === c || c === a) continue;
    welded[length++] = a;
    welded[length++] = b;
    welded[length++] = c;
  }
  return welded.slice(0, length);
}
