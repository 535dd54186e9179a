import { percentile } from '../../math/index.ts';
import { buildEdgeTable, type EdgeTable } from '../edge-table.ts';
import { computeTriangleAreas } from '../triangle-area.ts';
import { type PointMap, weldPoints } from '../weld-points.ts';

export interface HealthInput {
  /** World space of the bind pose, [n, 3] metres. */
  positions: Float32Array;
  /** [t, 3] */
  triangles: Uint32Array;
  /** [n, 2] or null. */
  uvs: Float32Array | null;
  /** Places whose lengths are those at rest, [n, 3]; without them the bind pose. */
  rest?: Float32Array | null;
  /** Poses that the garment plays in: world space, [n, 3]. */
  poses?: readonly { name: string; positions: Float32Array }[];
}

/** A mesh with what the checks ask of it again and again. */
export interface CheckedMesh extends HealthInput, PointMap {
  /** Of the points, [points, 3]. */
  pointPositions: Float32Array;
  /** Triangles over points, without those that name a point twice. [f, 3] */
  faces: Uint32Array;
  /** Which of the triangles each face is. [f] */
  triangleOfFace: Uint32Array;
  /** m². [f] */
  areas: Float32Array;
  table: EdgeTable;
  /** Of the edges of `table`, m. */
  lengths: Float32Array;
  /** Median of the lengths, m. */
  spacing: number;
}

/** A mesh with its welded vertices, faces, edges and their measures, as every check of it needs them. O(n log n). */
export function createCheckedMesh(input: HealthInput): CheckedMesh {
  const points = weldPoints(input.positions);
  const positions = new Float32Array(3 * points.pointCount);
  points.vertexOfPoint.forEach((vertex, point) => {
    positions.set(input.positions.subarray(3 * vertex, 3 * vertex + 3), 3 * point);
  });
  const faces: number[] = [];
  const triangleOfFace: number[] = [];
  for (let t = 0; t < input.triangles.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => points.pointOfVertex[input.triangles[t + k]!]!) as [
      number,
      number,
      number,
    ];
    if (a === b || b === c || c === a) continue;
    faces.push(a, b, c);
    triangleOfFace.push(t / 3);
  }
  const table = buildEdgeTable(Uint32Array.from(faces), points.pointCount);
  const lengths = measureLengths(positions, table);
  return {
    ...input,
    ...points,
    pointPositions: positions,
    faces: Uint32Array.from(faces),
    triangleOfFace: Uint32Array.from(triangleOfFace),
    areas: computeTriangleAreas(positions, Uint32Array.from(faces)),
    table,
    lengths,
    spacing: percentile(lengths, 0.5),
  };
}

/** Lengths of the edges of a table between places [n, 3]. */
export function measureLengths(positions: Float32Array, { edges, edgeCount }: EdgeTable): Float32Array {
  const lengths = new Float32Array(edgeCount);
  for (let e = 0; e < edgeCount; e++)
    lengths[e] = measureDistance(positions, edges[2 * e]!, edges[2 * e + 1]!);
  return lengths;
}

/** Distance of two points of an array, [n, 3], in its unit. */
export function measureDistance(positions: Float32Array, a: number, b: number): number {
  let sum = 0;
  for (let k = 0; k < 3; k++) sum += (positions[3 * a + k]! - positions[3 * b + k]!) ** 2;
  return Math.sqrt(sum);
}

/** First vertices of some points. */
export function toVertices(mesh: CheckedMesh, points: Iterable<number>): Uint32Array {
  return Uint32Array.from(new Set(points), (point) => mesh.vertexOfPoint[point]!);
}
