import type { Vector3 } from '../../math/index.ts';

/** Numbers of one quadric: of xᵀAx − 2bᵀx + c the six of A (xx xy xz yy yz zz), three of b, and c. */
export const QUADRIC = 10;

/** Adds weight · (squared distance from a plane through a place). @param normal - Unit. */
export function addPlane(q: Float64Array, o: number, normal: Vector3, place: Vector3, weight: number): void {
  const [x, y, z] = normal;
  const d = x * place[0] + y * place[1] + z * place[2];
  add(q, o, [x * x, x * y, x * z, y * y, y * z, z * z, d * x, d * y, d * z, d * d], weight);
}

/** Adds weight · (squared distance from the line through a place along a direction). @param along - Unit. */
export function addLine(q: Float64Array, o: number, along: Vector3, place: Vector3, weight: number): void {
  const [x, y, z] = along;
  const [px, py, pz] = place;
  const d = x * px + y * py + z * pz;
  const b = [px - d * x, py - d * y, pz - d * z] as const;
  const c = px * b[0] + py * b[1] + pz * b[2];
  add(q, o, [1 - x * x, -x * y, -x * z, 1 - y * y, -y * z, 1 - z * z, ...b, c], weight);
}

function add(q: Float64Array, o: number, numbers: readonly number[], weight: number): void {
  for (let k = 0; k < QUADRIC; k++) q[o + k] = q[o + k]! + weight * numbers[k]!;
}

/** Adds the quadric at `from` to that at `to`. */
export function addQuadric(q: Float64Array, to: number, from: number): void {
  for (let k = 0; k < QUADRIC; k++) q[to + k] = q[to + k]! + q[from + k]!;
}

/** The value of the sum of two quadrics at a place, never below 0. */
export function measureQuadrics(q: Float64Array, o: number, p: number, [x, y, z]: Vector3): number {
  const at = (k: number): number => q[o + k]! + q[p + k]!;
  const squares = at(0) * x * x + at(3) * y * y + at(5) * z * z;
  const mixed = at(1) * x * y + at(2) * x * z + at(4) * y * z;
  return Math.max(0, squares + 2 * mixed - 2 * (at(6) * x + at(7) * y + at(8) * z) + at(9));
}

/** Share of the largest entry that is added to the diagonal, so that a flat or straight piece has one best place. */
const HOLD = 1e-6;

/**
 * The place where the sum of two quadrics is least, near a middle; null when it cannot be told.
 * @param isInPlane - In the plane x = 0 alone.
 */
export function placeBest(
  q: Float64Array,
  o: number,
  p: number,
  middle: Vector3,
  isInPlane: boolean,
): [number, number, number] | null {
  const at = (k: number): number => q[o + k]! + q[p + k]!;
  const hold = HOLD * Math.max(at(0), at(3), at(5));
  const [a, b, c, d, e, f] = [at(0) + hold, at(1), at(2), at(3) + hold, at(4), at(5) + hold];
  const [mx, my, mz] = middle;
  const [u, v, w] = [at(6) + hold * mx, at(7) + hold * my, at(8) + hold * mz];
  if (isInPlane) {
    const determinant = d * f - e * e;
    return determinant > 0 ? [0, (f * v - e * w) / determinant, (d * w - e * v) / determinant] : null;
  }
  const [ca, cb, cc] = [d * f - e * e, c * e - b * f, b * e - c * d];
  const determinant = a * ca + b * cb + c * cc;
  if (!(determinant > 0)) return null;
  return [
    (ca * u + cb * v + cc * w) / determinant,
    (cb * u + (a * f - c * c) * v + (b * c - a * e) * w) / determinant,
    (cc * u + (b * c - a * e) * v + (a * d - b * b) * w) / determinant,
  ];
}
