/**
 * Solves A x = b for a symmetric positive (semi-)definite A by conjugate gradients with a diagonal preconditioner.
 *
 * @param apply - Writes A x into `out`. @param diagonal - Of A; places with 0 or less are taken as 1. [n]
 * @param x - First guess, [n]; overwritten with the solution and returned.
 * @param tolerance - Of the residual relative to b.
 * @returns `x`, at the best that `most` steps reach.
 *
 * Reference: Y. Saad, *Iterative methods for sparse linear systems*, SIAM 2003, Algorithm 9.1.
 */
export function solveConjugate(
  apply: (x: Float64Array, out: Float64Array) => void,
  diagonal: Float64Array,
  b: Float64Array,
  x: Float64Array,
  tolerance = 1e-6,
  most = 2000,
): Float64Array {
  const n = b.length;
  const residual = new Float64Array(n);
  const direction = new Float64Array(n);
  const product = new Float64Array(n);
  apply(x, product);
  let size = 0;
  let rz = 0;
  for (let i = 0; i < n; i++) {
    residual[i] = b[i]! - product[i]!;
    size += b[i]! * b[i]!;
    direction[i] = residual[i]! / positive(diagonal[i]!);
    rz += residual[i]! * direction[i]!;
  }
  const enough = tolerance * tolerance * size;
  for (let step = 0; step < most; step++) {
    let rr = 0;
    for (let i = 0; i < n; i++) rr += residual[i]! * residual[i]!;
    if (rr <= enough) break;
    apply(direction, product);
    let dp = 0;
    for (let i = 0; i < n; i++) dp += direction[i]! * product[i]!;
    // A direction without curvature: the system is singular along it, and nothing more is to be won.
    if (!(dp > 0)) break;
    const alpha = rz / dp;
    let next = 0;
    for (let i = 0; i < n; i++) {
      x[i] = x[i]! + alpha * direction[i]!;
      residual[i] = residual[i]! - alpha * product[i]!;
      next += (residual[i]! * residual[i]!) / positive(diagonal[i]!);
    }
    const beta = next / rz;
    rz = next;
    for (let i = 0; i < n; i++) direction[i] = residual[i]! / positive(diagonal[i]!) + beta * direction[i]!;
  }
  return x;
}

function positive(value: number): number {
  return value > 0 ? value : 1;
}
