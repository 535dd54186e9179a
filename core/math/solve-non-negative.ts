import { solveDense } from './solve-dense.ts';

/** How far a gradient must point before a number is let off 0, as a share of the largest one. */
const EVEN = 1e-10;

/**
 * Least squares with no unknown below 0: min |A x − b|, x ≥ 0, by the active set method. Columns that say the same as others get 0.
 *
 * Reference: C. Lawson, R. Hanson, *Solving least squares problems*, 1974, chapter 23.
 *
 * @param matrix - [m, n] row by row. @param right - [m].
 * @returns [n]
 */
export function solveNonNegative(matrix: Float64Array, right: Float64Array): Float64Array {
  const n = matrix.length / right.length;
  const scales = scaleColumns(matrix, n);
  const { gram, dotted } = squareUp(matrix, right, scales);
  const x = new Float64Array(n);
  const isFree = new Uint8Array(n);
  const largest = dotted.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  // Each round lets one number off 0; in theory there are few of them.
  for (let round = 0; round < 3 * n; round++) {
    const entering = findSteepest(gram, dotted, x, isFree);
    if (entering < 0 || gradientOf(gram, dotted, x, entering) <= EVEN * largest) break;
    isFree[entering] = 1;
    settle(gram, dotted, x, isFree);
  }
  return x.map((value, k) => (scales[k]! > 0 ? value / scales[k]! : 0));
}

/** Solves for the free numbers; those that would go below 0 are bound, until none does. */
function settle(gram: Float64Array, dotted: Float64Array, x: Float64Array, isFree: Uint8Array): void {
  const n = x.length;
  for (;;) {
    const wanted = solveFree(gram, dotted, isFree);
    let step = 1;
    for (let k = 0; k < n; k++)
      if (isFree[k] && wanted[k]! <= 0) step = Math.min(step, x[k]! / (x[k]! - wanted[k]!) || 0);
    for (let k = 0; k < n; k++) if (isFree[k]) x[k] = x[k]! + step * (wanted[k]! - x[k]!);
    if (step === 1) return;
    for (let k = 0; k < n; k++) {
      if (!isFree[k] || x[k]! > 1e-14) continue;
      x[k] = 0;
      isFree[k] = 0;
    }
  }
}

function solveFree(gram: Float64Array, dotted: Float64Array, isFree: Uint8Array): Float64Array {
  const n = isFree.length;
  const free = Array.from({ length: n }, (_, k) => k).filter((k) => isFree[k]);
  const matrix = new Float64Array(free.length ** 2);
  free.forEach((row, r) => {
    free.forEach((column, c) => {
      matrix[free.length * r + c] = gram[n * row + column]!;
    });
  });
  const solved = solveDense(
    matrix,
    Float64Array.from(free, (k) => dotted[k]!),
  );
  const out = new Float64Array(n);
  free.forEach((k, i) => {
    out[k] = Number.isFinite(solved[i]!) ? solved[i]! : 0;
  });
  return out;
}

/** Length of each column; 0 for one of nothing. */
function scaleColumns(matrix: Float64Array, n: number): Float64Array {
  const scales = new Float64Array(n);
  for (let i = 0; i < matrix.length; i++) scales[i % n] = scales[i % n]! + matrix[i]! ** 2;
  return scales.map(Math.sqrt);
}

/** Normal equations in columns of length 1. A little on the diagonal keeps columns that say the same apart. */
function squareUp(
  matrix: Float64Array,
  right: Float64Array,
  scales: Float64Array,
): { gram: Float64Array; dotted: Float64Array } {
  const n = scales.length;
  const gram = new Float64Array(n * n);
  const dotted = new Float64Array(n);
  for (let r = 0; r < right.length; r++) {
    for (let i = 0; i < n; i++) {
      const value = scales[i]! > 0 ? matrix[n * r + i]! / scales[i]! : 0;
      if (value === 0) continue;
      dotted[i] = dotted[i]! + value * right[r]!;
      for (let j = 0; j < n; j++)
        if (scales[j]! > 0) gram[n * i + j] = gram[n * i + j]! + (value * matrix[n * r + j]!) / scales[j]!;
    }
  }
  for (let i = 0; i < n; i++) gram[n * i + i] = gram[n * i + i]! + 1e-12;
  return { gram, dotted };
}

function findSteepest(gram: Float64Array, dotted: Float64Array, x: Float64Array, isFree: Uint8Array): number {
  let best = -1;
  let most = 0;
  for (let k = 0; k < x.length; k++) {
    if (isFree[k]) continue;
    const gradient = gradientOf(gram, dotted, x, k);
    if (gradient <= most) continue;
    most = gradient;
    best = k;
  }
  return best;
}

function gradientOf(gram: Float64Array, dotted: Float64Array, x: Float64Array, k: number): number {
  const n = x.length;
  let sum = dotted[k]!;
  for (let j = 0; j < n; j++) sum -= gram[n * k + j]! * x[j]!;
  return sum;
}
