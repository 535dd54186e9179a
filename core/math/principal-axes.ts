import { pickAcross } from './rotations.ts';
import { cross, type MutableVector3, normalise } from './vectors.ts';

export interface PrincipalAxes {
  middle: MutableVector3;
  /** Unit directions, right-handed, from the longest spread to the shortest. */
  axes: [MutableVector3, MutableVector3, MutableVector3];
}

/** Rounds of turning; three numbers are settled to the last digit in a handful. */
const ROUNDS = 12;

/**
 * Mean of points and the directions in which they spread, by Jacobi's method on their covariance.
 *
 * @param points - [n, 3], at least one.
 *
 * Reference: G. H. Golub and C. F. Van Loan, *Matrix Computations*, section 8.5.
 */
export function findPrincipalAxes(points: ArrayLike<number>): PrincipalAxes {
  const count = points.length / 3;
  const middle: MutableVector3 = [0, 0, 0];
  for (let i = 0; i < points.length; i++) middle[i % 3] = middle[i % 3]! + points[i]! / count;
  const m = new Float64Array(9);
  for (let i = 0; i < points.length; i += 3) {
    for (let r = 0; r < 3; r++) {
      for (let c = 0; c < 3; c++) {
        m[3 * r + c] = m[3 * r + c]! + (points[i + r]! - middle[r]!) * (points[i + c]! - middle[c]!);
      }
    }
  }
  const v = Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);
  for (let round = 0; round < ROUNDS; round++) {
    for (const [p, q] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ] as const)
      turnPair(m, v, p, q);
  }
  const order = [0, 1, 2].sort((p, q) => m[4 * q]! - m[4 * p]!);
  const column = (k: number): MutableVector3 => [v[k]!, v[3 + k]!, v[6 + k]!];
  const first = normalise(column(order[0]!));
  const square = normalise(cross(cross(first, column(order[1]!)), first));
  const second = square.some((value) => value !== 0) ? square : pickAcross(first);
  return { middle, axes: [first, second, cross(first, second)] };
}

/** One turn in the plane of two axes, after which the matrix couples them no more. */
function turnPair(m: Float64Array, v: Float64Array, p: number, q: number): void {
  const off = m[3 * p + q]!;
  if (off === 0) return;
  const half = (m[4 * q]! - m[4 * p]!) / (2 * off);
  const t = (half < 0 ? -1 : 1) / (Math.abs(half) + Math.sqrt(half * half + 1));
  const c = 1 / Math.sqrt(t * t + 1);
  const s = t * c;
  for (let k = 0; k < 3; k++) turn(m, 3 * k + p, 3 * k + q, c, s);
  for (let k = 0; k < 3; k++) turn(m, 3 * p + k, 3 * q + k, c, s);
  for (let k = 0; k < 3; k++) turn(v, 3 * k + p, 3 * k + q, c, s);
}

function turn(m: Float64Array, i: number, j: number, c: number, s: number): void {
  const [x, y] = [m[i]!, m[j]!];
  m[i] = c * x - s * y;
  m[j] = s * x + c * y;
}

/** How far points reach along a direction from a place. @returns Least and most, m. */
export function measureExtent(
  points: ArrayLike<number>,
  from: readonly [number, number, number],
  direction: readonly [number, number, number],
): [least: number, most: number] {
  let least = Number.POSITIVE_INFINITY;
  let most = Number.NEGATIVE_INFINITY;
  for (let i = 0; i < points.length; i += 3) {
    const along =
      (points[i]! - from[0]) * direction[0] +
      (points[i + 1]! - from[1]) * direction[1] +
      (points[i + 2]! - from[2]) * direction[2];
    least = Math.min(least, along);
    most = Math.max(most, along);
  }
  return [least, most];
}
