import type { Surface } from './surface.ts';

/** A needle's cotangents have no bound, and would drown all others in rounding. */
const MOST_WEIGHT = 1e3;

/** A symmetric matrix by rows: the entries of row i stand at `start[i]` … `start[i + 1] - 1`, without the diagonal. */
export interface CotangentLaplacian {
  start: Uint32Array;
  columns: Uint32Array;
  /** Weights of the edges, at least 0. */
  weights: Float64Array;
  /** Sum of each row's weights. [n] */
  diagonal: Float64Array;
  /** A third of the area around each point, m². [n] */
  areas: Float64Array;
}

/**
 * The Laplacian of a triangle mesh: (L x)_i = Σ w_ij (x_i - x_j), positive semi-definite, with w half the sum of the
 * cotangents across each edge. Weights below zero (obtuse pairs) are taken as zero: the maximum principle holds then,
 * and values filled in stay between those around them.
 *
 * Reference: U. Pinkall, K. Polthier, *Computing discrete minimal surfaces and their conjugates*, Experimental
 * Mathematics 2(1), 1993.
 */
export function buildCotangentLaplacian({ positions: p, triangles }: Surface): CotangentLaplacian {
  const count = p.length / 3;
  const rows: Map<number, number>[] = Array.from({ length: count }, () => new Map());
  const areas = new Float64Array(count);
  for (let t = 0; t < triangles.length; t += 3) {
    for (let k = 0; k < 3; k++) {
      const at = triangles[t + k]!;
      const b = triangles[t + ((k + 1) % 3)]!;
      const c = triangles[t + ((k + 2) % 3)]!;
      const [dot, cross] = measureCorner(p, at, b, c);
      areas[at] = areas[at]! + cross / 6;
      if (!(cross > 0)) continue;
      rows[b]!.set(c, (rows[b]!.get(c) ?? 0) + dot / cross / 2);
      rows[c]!.set(b, (rows[c]!.get(b) ?? 0) + dot / cross / 2);
    }
  }
  const start = new Uint32Array(count + 1);
  rows.forEach((row, i) => {
    start[i + 1] = start[i]! + row.size;
  });
  const columns = new Uint32Array(start[count]!);
  const weights = new Float64Array(start[count]!);
  const diagonal = new Float64Array(count);
  rows.forEach((row, i) => {
    let at = start[i]!;
    for (const [column, weight] of row) {
      columns[at] = column;
      // Not quite 0, so that a point among obtuse triangles only is still joined to something.
      weights[at] = Math.min(MOST_WEIGHT, Math.max(1e-4, weight));
      diagonal[i] = diagonal[i]! + weights[at]!;
      at++;
    }
  });
  return { start, columns, weights, diagonal, areas };
}

/** L x for each of several values a point. @param x, out - [n]; not the same array. */
export function applyLaplacian(
  { start, columns, weights, diagonal }: CotangentLaplacian,
  x: Float64Array,
  out: Float64Array,
): void {
  for (let i = 0; i < diagonal.length; i++) {
    let sum = diagonal[i]! * x[i]!;
    for (let at = start[i]!; at < start[i + 1]!; at++) sum -= weights[at]! * x[columns[at]!]!;
    out[i] = sum;
  }
}

/** Dot and length of the cross product of the two sides at a corner. */
function measureCorner(p: Float32Array, at: number, b: number, c: number): [number, number] {
  const ux = p[3 * b]! - p[3 * at]!;
  const uy = p[3 * b + 1]! - p[3 * at + 1]!;
  const uz = p[3 * b + 2]! - p[3 * at + 2]!;
  const vx = p[3 * c]! - p[3 * at]!;
  const vy = p[3 * c + 1]! - p[3 * at + 1]!;
  const vz = p[3 * c + 2]! - p[3 * at + 2]!;
  const nx = uy * vz - uz * vy;
  const ny = uz * vx - ux * vz;
  const nz = ux * vy - uy * vx;
  return [ux * vx + uy * vy + uz * vz, Math.sqrt(nx * nx + ny * ny + nz * nz)];
}
