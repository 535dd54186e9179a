import { percentile } from '../../math/index.ts';
import { buildEdgeTable, type EdgeTable } from '../edge-table.ts';
import { measureLengths } from '../measure-distance.ts';
import { computeTriangleAreas } from '../triangle-area.ts';
import { type PointMap, weldPoints } from '../weld-points.ts';
import { completeLimits, type HealthLimits } from './health-limits.ts';

export interface HealthInput {
  /** World space of the bind pose, [n, 3] metres. */
  positions: Float32Array;
  /** Which vertices are one point; without it those that share a place. */
  points?: PointMap;
  /** [t, 3] */
  triangles: Uint32Array;
  /** [n, 2] or null. */
  uvs: Float32Array | null;
  /** Places whose lengths are those at rest, [n, 3]; without them the bind pose. */
  rest?: Float32Array | null;
  /** [n, 3]; without them they are not checked. */
  normals?: Float32Array | null;
  /** Vertices that have no weights of their own: not 0. [n]; without it that is not checked. */
  weightless?: Uint8Array | null;
  /** Where they are not those of `STANDARD_LIMITS`. */
  limits?: Partial<HealthLimits>;
  /** Poses that the garment plays in: world space, [n, 3]. */
  poses?: readonly { name: string; positions: Float32Array }[];
}

/** A mesh with what the checks ask of it again and again. */
export interface CheckedMesh extends HealthInput, PointMap {
  limits: HealthLimits;
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
  const points = input.points ?? weldPoints(input.positions);
  const positions = new Float32Array(3 * points.pointCount);
  points.vertexOfPoint.forEach((vertex, point) => {
    positions.set(input.positions.subarray(3 * vertex, 3 * vertex + 3), 3 * point);
  });
  const faces = new Uint32Array(input.triangles.length);
  const triangleOfFace = new Uint32Array(input.triangles.length / 3);
  let count = 0;
  for (let t = 0; t < input.triangles.length; t += 3) {
    const a = points.pointOfVertex[input.triangles[t]!]!;
    const b = points.pointOfVertex[input.triangles[t + 1]!]!;
    const c = points.pointOfVertex[input.triangles[t + 2]!]!;
    if (a === b || b === c || c === a) continue;
    faces[3 * count] = a;
    faces[3 * count + 1] = b;
    faces[3 * count + 2] = c;
    triangleOfFace[count++] = t / 3;
  }
  const kept = faces.slice(0, 3 * count);
  const table = buildEdgeTable(kept, points.pointCount);
  const lengths = measureLengths(positions, table);
  return {
    ...input,
    ...points,
    limits: completeLimits(input.limits),
    pointPositions: positions,
    faces: kept,
    triangleOfFace: triangleOfFace.slice(0, count),
    areas: computeTriangleAreas(positions, kept),
    table,
    lengths,
    spacing: percentile(lengths, 0.5),
  };
}

/** First vertices of some points. */
export function toVertices(mesh: CheckedMesh, points: Iterable<number>): Uint32Array {
  return Uint32Array.from(new Set(points), (point) => mesh.vertexOfPoint[point]!);
}
