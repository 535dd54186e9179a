import { percentile, solveDense } from '../math/index.ts';
import { createCapsuleHit, measureTaperedCapsule } from './tapered-capsule-distance.ts';

/** ax ay az ra bx by bz rb, as in a packed row. */
export type CapsuleRow = Float64Array;

const NUMBERS = 8;
const LEAST_RADIUS = 0.004;
/** Residuals beyond this (metres) count linearly, not squared, at first: a neighbouring limb must not swell the shape. */
const HUBER_WIDTH = 0.012;
/** Pull of each end towards where it started, relative to all points together: a straight limb says nothing of its length. */
const FIRST_PRIOR = 0.12;
const LAST_PRIOR = 0.02;
const FIRST_STEPS = 24;
/** Then points far from the shape are left out more and more, so many times; */
const ROUNDS = 4;
const STEPS = 8;
/** Those count nothing that are so many times farther than is usual, and farther than this, m. */
const CUT = 4.685;
const LEAST_CUT = 0.006;
/** The median distance of normal noise, as a share of its spread. */
const MEDIAN_OF_SPREAD = 0.6745;

/** Weight of a residual and what it costs, of the robust kinds. */
interface Loss {
  weight(size: number): number;
  cost(size: number): number;
}

/**
 * Refines a tapered capsule on points: Levenberg-Marquardt on the signed distance, by Huber's weights first and Tukey's after, whose
 * width follows the median distance: a fifth of the points may be of anything. The derivative of a distance by the ends
 * and radii follows from where its closest surface is along the axis.
 *
 * @param points - [n, 3] m. @param start - Stays as it is.
 * @param overhangWeight - How much worse a point within the shape is than one outside.
 * @returns The row, and a cost to compare refinements of the same points by.
 *
 * References: D. W. Marquardt, *An algorithm for least-squares estimation of nonlinear parameters*, SIAM J. 11(2),
 * 1963. P. J. Huber, *Robust estimation of a location parameter*, Ann. Math. Statist. 35, 1964. A. E. Beaton and J. W. Tukey, *The
 * fitting of power series*, Technometrics 16(2), 1974.
 */
export function refineCapsule(
  points: Float32Array,
  start: CapsuleRow,
  overhangWeight: number,
): { row: CapsuleRow; cost: number } {
  const first = tidy(start.slice());
  let row = descend(points, first, huber(HUBER_WIDTH), overhangWeight, FIRST_PRIOR, FIRST_STEPS);
  for (let round = 0; round < ROUNDS; round++) {
    const usual = percentile(measureSizes(points, row, overhangWeight), 0.5) / MEDIAN_OF_SPREAD;
    const width = Math.max(LEAST_CUT, CUT * usual);
    row = descend(points, row, tukey(width), overhangWeight, LAST_PRIOR, STEPS);
  }
  return { row, cost: measureTrimmed(points, row, overhangWeight) };
}

/** Distances of the points together, those far off counting alike: of what fits most of them best. */
function measureTrimmed(points: Float32Array, row: CapsuleRow, overhangWeight: number): number {
  let cost = 0;
  for (const size of measureSizes(points, row, overhangWeight)) cost += Math.min(size, HUBER_WIDTH);
  return cost;
}

function huber(width: number): Loss {
  return {
    weight: (size) => (size <= width ? 1 : width / size),
    cost: (size) => (size <= width ? size * size : 2 * width * size - width * width),
  };
}

function tukey(width: number): Loss {
  return {
    weight: (size) => (size < width ? (1 - (size / width) ** 2) ** 2 : 0),
    cost: (size) => (width * width * (1 - (size < width ? (1 - (size / width) ** 2) ** 3 : 0))) / 3,
  };
}

/** How far the points are from the shape, more within it. */
function measureSizes(points: Float32Array, row: CapsuleRow, overhangWeight: number): Float64Array {
  const packed = Float32Array.from(row);
  const hit = createCapsuleHit();
  const sizes = new Float64Array(points.length / 3);
  for (let i = 0; i < sizes.length; i++) {
    measureTaperedCapsule(packed, 0, points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!, hit);
    sizes[i] = hit.distance < 0 ? -overhangWeight * hit.distance : hit.distance;
  }
  return sizes;
}

/** Levenberg-Marquardt from a row; never worse than that. */
function descend(
  points: Float32Array,
  start: CapsuleRow,
  loss: Loss,
  overhangWeight: number,
  prior: number,
  steps: number,
): CapsuleRow {
  const pull = prior * prior * (points.length / 3);
  const measureCost = (row: CapsuleRow): number => {
    let cost = 0;
    for (const size of measureSizes(points, row, overhangWeight)) cost += loss.cost(size);
    for (let k = 0; k < NUMBERS; k++) if (k % 4 < 3) cost += pull * (row[k]! - start[k]!) ** 2;
    return cost;
  };
  let row = start;
  let cost = measureCost(row);
  let lambda = 1e-2;
  const matrix = new Float64Array(NUMBERS * NUMBERS);
  const right = new Float64Array(NUMBERS);
  let isNew = true;
  for (let step = 0; step < steps && lambda <= 1e6; step++) {
    if (isNew) {
      gatherNormalEquations(points, row, loss, overhangWeight, matrix, right);
      for (let k = 0; k < NUMBERS; k++) {
        if (k % 4 === 3) continue;
        matrix[NUMBERS * k + k] = matrix[NUMBERS * k + k]! + pull;
        right[k] = right[k]! - pull * (row[k]! - start[k]!);
      }
    }
    const damped = matrix.slice();
    for (let k = 0; k < NUMBERS; k++)
      damped[NUMBERS * k + k] = damped[NUMBERS * k + k]! * (1 + lambda) + 1e-9;
    const way = solveDense(damped, right.slice());
    const tried = tidy(row.map((value, k) => value + way[k]!));
    const triedCost = measureCost(tried);
    isNew = triedCost < cost;
    if (isNew) {
      row = tried;
      cost = triedCost;
      lambda = Math.max(1e-6, lambda / 3);
    } else lambda *= 4;
  }
  return row;
}

/** JᵀWJ and -JᵀWr of the distances. */
function gatherNormalEquations(
  points: Float32Array,
  row: CapsuleRow,
  loss: Loss,
  overhangWeight: number,
  matrix: Float64Array,
  right: Float64Array,
): void {
  matrix.fill(0);
  right.fill(0);
  const packed = Float32Array.from(row);
  const hit = createCapsuleHit();
  const j = new Float64Array(NUMBERS);
  for (let i = 0; i < points.length; i += 3) {
    measureTaperedCapsule(packed, 0, points[i]!, points[i + 1]!, points[i + 2]!, hit);
    const { distance, nx, ny, nz, along: t } = hit;
    const factor = distance < 0 ? overhangWeight : 1;
    const weight = factor * factor * loss.weight(factor * Math.abs(distance));
    if (weight === 0) continue;
    const s = 1 - t;
    j[0] = -s * nx;
    j[1] = -s * ny;
    j[2] = -s * nz;
    j[3] = -s;
    j[4] = -t * nx;
    j[5] = -t * ny;
    j[6] = -t * nz;
    j[7] = -t;
    for (let r = 0; r < NUMBERS; r++) {
      right[r] = right[r]! - weight * j[r]! * distance;
      for (let c = r; c < NUMBERS; c++) {
        matrix[NUMBERS * r + c] = matrix[NUMBERS * r + c]! + weight * j[r]! * j[c]!;
      }
    }
  }
  for (let r = 1; r < NUMBERS; r++) {
    for (let c = 0; c < r; c++) matrix[NUMBERS * r + c] = matrix[NUMBERS * c + r]!;
  }
}

/** Keeps a shape one: radii positive, and the cone less steep than its length. */
function tidy(row: CapsuleRow): CapsuleRow {
  row[3] = Math.max(LEAST_RADIUS, row[3]!);
  row[7] = Math.max(LEAST_RADIUS, row[7]!);
  const length = Math.sqrt((row[4]! - row[0]!) ** 2 + (row[5]! - row[1]!) ** 2 + (row[6]! - row[2]!) ** 2);
  const most = 0.7 * length;
  const difference = row[3]! - row[7]!;
  if (Math.abs(difference) > most) {
    const mean = (row[3]! + row[7]!) / 2;
    row[3] = mean + (Math.sign(difference) * most) / 2;
    row[7] = mean - (Math.sign(difference) * most) / 2;
  }
  return row;
}
