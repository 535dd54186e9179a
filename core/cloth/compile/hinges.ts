import { type EdgeTable, NO_TRIANGLE } from '../../mesh/index.ts';

/** Pairs of triangles that share an edge, as the isometric bending energy sees them. */
export interface Hinges {
  /** The edge's two points, then the two across it. [b, 4] */
  quads: Uint32Array;
  /** Weights of the four points in the curvature vector, see `computeHingeWeights`. [b, 4] */
  weights: Float32Array;
  /** Curvature at rest, signed, m: 2 · edge length · sin(half the fold angle). [b] */
  rest: Float32Array;
  /** Stiffness of a hinge is the fabric's N·m times this: one over the area of its triangles, 1/m². [b] */
  shape: Float32Array;
  /** Of the shared edge, m. [b] */
  lengths: Float32Array;
  /** Area of the two triangles, m². [b] */
  areas: Float32Array;
  /** One over the doubled area of the triangle across which the third, and the fourth, point lies, 1/m². [b, 2] */
  inverseAreas: Float32Array;
}

/** Triangles of less area (m²) than this have no direction to bend about. */
const LEAST_AREA = 1e-12;

/**
 * All hinges of a mesh whose two triangles have an area and four different points.
 *
 * @param rest - [n, 4] metres. @param areas - Of the triangles, [t], m².
 *
 * Reference: M. Bergou, M. Wardetzky, D. Harmon, D. Zorin, E. Grinspun, *A quadratic bending model for inextensible
 * surfaces*, SGP 2006.
 */
export function findHinges(rest: Float32Array, areas: Float32Array, table: EdgeTable): Hinges {
  const quads: number[] = [];
  const weights: number[] = [];
  const curvatures: number[] = [];
  const shape: number[] = [];
  const lengths: number[] = [];
  const hingeAreas: number[] = [];
  const inverseAreas: number[] = [];
  for (let e = 0; e < table.edgeCount; e++) {
    const t0 = table.triangles[2 * e]!;
    const t1 = table.triangles[2 * e + 1]!;
    if (t1 === NO_TRIANGLE || areas[t0]! < LEAST_AREA || areas[t1]! < LEAST_AREA) continue;
    const a = table.edges[2 * e]!;
    const b = table.edges[2 * e + 1]!;
    const c = table.opposite[2 * e]!;
    const d = table.opposite[2 * e + 1]!;
    if (c === d) continue;
    const found = computeHingeWeights(rest, a, b, c, d);
    if (!found.every(Number.isFinite)) continue;
    const area = areas[t0]! + areas[t1]!;
    quads.push(a, b, c, d);
    weights.push(...found);
    curvatures.push(measureHinge(rest, [a, b, c, d], found));
    shape.push(1 / area);
    lengths.push(distance(rest, a, b));
    hingeAreas.push(area);
    inverseAreas.push(0.5 / areas[t0]!, 0.5 / areas[t1]!);
  }
  return {
    quads: Uint32Array.from(quads),
    weights: Float32Array.from(weights),
    rest: Float32Array.from(curvatures),
    shape: Float32Array.from(shape),
    lengths: Float32Array.from(lengths),
    areas: Float32Array.from(hingeAreas),
    inverseAreas: Float32Array.from(inverseAreas),
  };
}

/**
 * Weights k of the four points of a hinge such that Σ k x is the curvature vector of its two triangles: zero when
 * flat, along the normal and as long as the edge times the (small) fold angle when folded. Equation (3) of Bergou
 * et al. 2006, from the cotangents of the four angles at the edge.
 *
 * @param x - [n, 4].
 */
export function computeHingeWeights(
  x: Float32Array,
  a: number,
  b: number,
  c: number,
  d: number,
): [number, number, number, number] {
  const ac = cotangent(x, a, b, c);
  const bc = cotangent(x, b, a, c);
  const ad = cotangent(x, a, b, d);
  const bd = cotangent(x, b, a, d);
  return [bc + bd, ac + ad, -ac - bc, -ad - bd];
}

/** Cotangent of the angle at `at` between the ways to `p` and `q`. */
function cotangent(x: Float32Array, at: number, p: number, q: number): number {
  const u = [0, 1, 2].map((k) => x[4 * p + k]! - x[4 * at + k]!) as [number, number, number];
  const v = [0, 1, 2].map((k) => x[4 * q + k]! - x[4 * at + k]!) as [number, number, number];
  const cross = Math.sqrt(
    (u[1] * v[2] - u[2] * v[1]) ** 2 + (u[2] * v[0] - u[0] * v[2]) ** 2 + (u[0] * v[1] - u[1] * v[0]) ** 2,
  );
  return (u[0] * v[0] + u[1] * v[1] + u[2] * v[2]) / cross;
}

/**
 * Curvature of a hinge along the direction between its unit normals, m: edge length times fold angle for small folds,
 * positive towards the side that the triangle a, b, c faces. Rows of `x` are [n, 4].
 */
export function measureHinge(x: Float32Array, quad: ArrayLike<number>, weights: ArrayLike<number>): number {
  const [a, b, c, d] = [0, 1, 2, 3].map((i) => [0, 1, 2].map((k) => x[4 * quad[i]! + k]!)) as [
    number[],
    number[],
    number[],
    number[],
  ];
  const n1 = unitNormal(a, b, c);
  const n2 = unitNormal(b, a, d);
  const n = [0, 1, 2].map((k) => n1[k]! + n2[k]!) as [number, number, number];
  const length = Math.sqrt(n[0] ** 2 + n[1] ** 2 + n[2] ** 2);
  if (length === 0) return 0;
  return [0, 1, 2].reduce((sum, k) => {
    const curvature = weights[0]! * a[k]! + weights[1]! * b[k]! + weights[2]! * c[k]! + weights[3]! * d[k]!;
    return sum + (curvature * n[k]!) / length;
  }, 0);
}

function unitNormal(a: number[], b: number[], c: number[]): [number, number, number] {
  const u = [0, 1, 2].map((k) => b[k]! - a[k]!) as [number, number, number];
  const v = [0, 1, 2].map((k) => c[k]! - a[k]!) as [number, number, number];
  const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]] as const;
  const length = Math.sqrt(n[0] ** 2 + n[1] ** 2 + n[2] ** 2) || 1;
  return [n[0] / length, n[1] / length, n[2] / length];
}

/** Distance of two points of an array, [n, 3], in its unit. */
export function distance(x: Float32Array, a: number, b: number): number {
  return Math.sqrt(
    (x[4 * b]! - x[4 * a]!) ** 2 +
      (x[4 * b + 1]! - x[4 * a + 1]!) ** 2 +
      (x[4 * b + 2]! - x[4 * a + 2]!) ** 2,
  );
}
