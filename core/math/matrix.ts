/**
 * Column-major 4x4 matrices in flat arrays, addressed by an element offset so that a whole skeleton lives in
 * one array. (gl-matrix works on one matrix per array; its `mat4` is used where that is what we have.)
 */

export type NumberArray = Float32Array | Float64Array;

export const IDENTITY_MATRIX: readonly number[] = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** Writes `a * b` at `out[o..o+15]`. `out` may be the array of `a` or `b` only at another offset. */
export function multiplyMatrices(
  out: NumberArray,
  o: number,
  a: ArrayLike<number>,
  ao: number,
  b: ArrayLike<number>,
  bo: number,
): void {
  const a00 = a[ao]!,
    a01 = a[ao + 1]!,
    a02 = a[ao + 2]!,
    a03 = a[ao + 3]!;
  const a10 = a[ao + 4]!,
    a11 = a[ao + 5]!,
    a12 = a[ao + 6]!,
    a13 = a[ao + 7]!;
  const a20 = a[ao + 8]!,
    a21 = a[ao + 9]!,
    a22 = a[ao + 10]!,
    a23 = a[ao + 11]!;
  const a30 = a[ao + 12]!,
    a31 = a[ao + 13]!,
    a32 = a[ao + 14]!,
    a33 = a[ao + 15]!;
  for (let column = 0; column < 4; column++) {
    const b0 = b[bo + 4 * column]!;
    const b1 = b[bo + 4 * column + 1]!;
    const b2 = b[bo + 4 * column + 2]!;
    const b3 = b[bo + 4 * column + 3]!;
    out[o + 4 * column] = a00 * b0 + a10 * b1 + a20 * b2 + a30 * b3;
    out[o + 4 * column + 1] = a01 * b0 + a11 * b1 + a21 * b2 + a31 * b3;
    out[o + 4 * column + 2] = a02 * b0 + a12 * b1 + a22 * b2 + a32 * b3;
    out[o + 4 * column + 3] = a03 * b0 + a13 * b1 + a23 * b2 + a33 * b3;
  }
}

/** Writes the matrix of translation `t`, unit quaternion `r` (xyzw) and scale `s`, each read at its offset. */
export function composeMatrix(
  out: NumberArray,
  o: number,
  t: ArrayLike<number>,
  to: number,
  r: ArrayLike<number>,
  ro: number,
  s: ArrayLike<number>,
  so: number,
): void {
  const x = r[ro]!,
    y = r[ro + 1]!,
    z = r[ro + 2]!,
    w = r[ro + 3]!;
  const sx = s[so]!,
    sy = s[so + 1]!,
    sz = s[so + 2]!;
  out[o] = (1 - 2 * (y * y + z * z)) * sx;
  out[o + 1] = 2 * (x * y + w * z) * sx;
  out[o + 2] = 2 * (x * z - w * y) * sx;
  out[o + 3] = 0;
  out[o + 4] = 2 * (x * y - w * z) * sy;
  out[o + 5] = (1 - 2 * (x * x + z * z)) * sy;
  out[o + 6] = 2 * (y * z + w * x) * sy;
  out[o + 7] = 0;
  out[o + 8] = 2 * (x * z + w * y) * sz;
  out[o + 9] = 2 * (y * z - w * x) * sz;
  out[o + 10] = (1 - 2 * (x * x + y * y)) * sz;
  out[o + 11] = 0;
  out[o + 12] = t[to]!;
  out[o + 13] = t[to + 1]!;
  out[o + 14] = t[to + 2]!;
  out[o + 15] = 1;
}

/** Writes `matrix * (x, y, z, 1)` at `out[o..o+2]`. */
export function transformPoint(
  out: NumberArray,
  o: number,
  m: ArrayLike<number>,
  mo: number,
  x: number,
  y: number,
  z: number,
): void {
  out[o] = m[mo]! * x + m[mo + 4]! * y + m[mo + 8]! * z + m[mo + 12]!;
  out[o + 1] = m[mo + 1]! * x + m[mo + 5]! * y + m[mo + 9]! * z + m[mo + 13]!;
  out[o + 2] = m[mo + 2]! * x + m[mo + 6]! * y + m[mo + 10]! * z + m[mo + 14]!;
}

/**
 * Writes the inverse of an affine matrix (last row 0 0 0 1) at `out[o..]`.
 * @returns False, leaving `out` untouched, when the matrix cannot be inverted (a joint scaled to zero).
 */
export function invertAffine(out: NumberArray, o: number, m: ArrayLike<number>, mo: number): boolean {
  const a = m[mo]!,
    b = m[mo + 4]!,
    c = m[mo + 8]!;
  const d = m[mo + 1]!,
    e = m[mo + 5]!,
    f = m[mo + 9]!;
  const g = m[mo + 2]!,
    h = m[mo + 6]!,
    i = m[mo + 10]!;
  const A = e * i - f * h;
  const B = f * g - d * i;
  const C = d * h - e * g;
  const determinant = a * A + b * B + c * C;
  if (!Number.isFinite(determinant) || determinant === 0) return false;
  const s = 1 / determinant;
  const x = m[mo + 12]!,
    y = m[mo + 13]!,
    z = m[mo + 14]!;
  const r0 = A * s,
    r1 = B * s,
    r2 = C * s;
  const r4 = (c * h - b * i) * s,
    r5 = (a * i - c * g) * s,
    r6 = (b * g - a * h) * s;
  const r8 = (b * f - c * e) * s,
    r9 = (c * d - a * f) * s,
    r10 = (a * e - b * d) * s;
  out[o] = r0;
  out[o + 1] = r1;
  out[o + 2] = r2;
  out[o + 3] = 0;
  out[o + 4] = r4;
  out[o + 5] = r5;
  out[o + 6] = r6;
  out[o + 7] = 0;
  out[o + 8] = r8;
  out[o + 9] = r9;
  out[o + 10] = r10;
  out[o + 11] = 0;
  out[o + 12] = -(r0 * x + r4 * y + r8 * z);
  out[o + 13] = -(r1 * x + r5 * y + r9 * z);
  out[o + 14] = -(r2 * x + r6 * y + r10 * z);
  out[o + 15] = 1;
  return true;
}

/** Mean length of the three basis vectors: the factor by which radii grow under a (nearly) uniform scale. */
export function meanScale(m: ArrayLike<number>, mo: number): number {
  return (
    (lengthOf(m[mo]!, m[mo + 1]!, m[mo + 2]!) +
      lengthOf(m[mo + 4]!, m[mo + 5]!, m[mo + 6]!) +
      lengthOf(m[mo + 8]!, m[mo + 9]!, m[mo + 10]!)) /
    3
  );
}

/** Products, not powers or `Math.hypot`: those may differ in the last digit from one engine to the next. */
function lengthOf(x: number, y: number, z: number): number {
  return Math.sqrt(x * x + y * y + z * z);
}
