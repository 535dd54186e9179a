import { percentile } from '../math/index.ts';
import { createCapsuleHit, measureTaperedCapsule } from './tapered-capsule-distance.ts';

export interface FitOptions {
  /** Distance to add to the fitted radii, metres. Default 0.004, typical 0 to 0.02. */
  margin?: number;
  /** How much worse a shape that stands beyond the skin is than one that leaves it bare. Default 1.6, typical 0.5 to 3. */
  overhangWeight?: number;
}

export interface FittedCapsule {
  a: [number, number, number];
  b: [number, number, number];
  radiusA: number;
  radiusB: number;
  /** Share of the points inside or within 5 mm outside. */
  coverage: number;
  /** 95th percentile of how far the shape reaches beyond the skin, metres. */
  overhang: number;
}

type Position = [number, number, number];
/** ax ay az ra bx by bz rb, as in a packed row. */
type Parameters = Float64Array;

const COVERED_WITHIN = 0.005;
const MOST_POINTS = 500;
const ITERATIONS = 24;
const PARAMETER_COUNT = 8;
const LEAST_RADIUS = 0.004;
/** Residuals beyond this (metres) count linearly, not squared: a neighbouring limb must not swell the shape. */
const HUBER_WIDTH = 0.012;
/** Pull of each end towards where it started, relative to all points together: a straight limb says nothing of its length. */
const END_PRIOR = 0.12;

/**
 * Fits a tapered capsule to skin points around a bone: least squares on the signed distance to the skin, robust by
 * Huber's weight, a shape beyond the skin counting more than a gap. Levenberg-Marquardt from two starts, the bone
 * itself and the longest direction of the points (a trunk is wider than its bones are long); the better one stays.
 *
 * @param points - [n, 3] metres, at least 8.
 * @param from - Start of the bone; `to` - its end, same space.
 * @returns Null when there are too few points or the bone has no length.
 *
 * References: D. W. Marquardt, *An algorithm for least-squares estimation of nonlinear parameters*, SIAM J. 11(2),
 * 1963. P. J. Huber, *Robust estimation of a location parameter*, Ann. Math. Statist. 35, 1964.
 */
export function fitTaperedCapsule(
  points: Float32Array,
  from: readonly [number, number, number],
  to: readonly [number, number, number],
  options: FitOptions = {},
): FittedCapsule | null {
  const { margin = 0.004, overhangWeight = 1.6 } = options;
  if (points.length < 3 * 8 || distanceBetween(from, to) < 1e-4) return null;
  const used = thinOut(points);
  let best: { parameters: Parameters; cost: number } | null = null;
  for (const start of [startFromBone(used, from, to), startFromSpread(used)]) {
    const fitted = refine(used, start, overhangWeight);
    if (!best || fitted.cost < best.cost) best = fitted;
  }
  const p = best!.parameters;
  const a: Position = [p[0]!, p[1]!, p[2]!];
  const b: Position = [p[4]!, p[5]!, p[6]!];
  const radiusA = p[3]! + margin;
  const radiusB = p[7]! + margin;
  // The same way round as the bone, so that the first end is the joint's.
  const isReversed = dotBetween(a, b, from, to) < 0;
  const fit = isReversed ? { a: b, b: a, radiusA: radiusB, radiusB: radiusA } : { a, b, radiusA, radiusB };
  return { ...fit, ...measureFit(points, fit.a, fit.b, fit.radiusA, fit.radiusB) };
}

/** Coverage and overhang of a shape over skin points. */
export function measureFit(
  points: Float32Array,
  a: readonly number[],
  b: readonly number[],
  radiusA: number,
  radiusB: number,
): { coverage: number; overhang: number } {
  const row = Float32Array.from([...a, radiusA, ...b, radiusB]);
  const hit = createCapsuleHit();
  const beyond: number[] = [];
  let covered = 0;
  for (let i = 0; i < points.length; i += 3) {
    measureTaperedCapsule(row, 0, points[i]!, points[i + 1]!, points[i + 2]!, hit);
    if (hit.distance <= COVERED_WITHIN) covered++;
    beyond.push(Math.max(0, -hit.distance));
  }
  return { coverage: covered / Math.max(1, points.length / 3), overhang: percentile(beyond, 0.95) };
}

/** Every k-th point, so that large joints take no longer than small ones. */
function thinOut(points: Float32Array): Float32Array {
  const count = points.length / 3;
  const stride = Math.max(1, Math.floor(count / MOST_POINTS));
  if (stride === 1) return points;
  const thin = new Float32Array(3 * Math.ceil(count / stride));
  for (let i = 0, k = 0; i < count; i += stride, k++) thin.set(points.subarray(3 * i, 3 * i + 3), 3 * k);
  return thin;
}

function startFromBone(points: Float32Array, from: readonly number[], to: readonly number[]): Parameters {
  const d = [0, 1, 2].map((k) => to[k]! - from[k]!);
  const dd = d.reduce((sum, value) => sum + value * value, 0);
  const heights: number[] = [];
  for (let i = 0; i < points.length; i += 3) {
    const t = [0, 1, 2].reduce((sum, k) => sum + (points[i + k]! - from[k]!) * d[k]!, 0) / dd;
    heights.push(Math.hypot(...[0, 1, 2].map((k) => points[i + k]! - from[k]! - t * d[k]!)));
  }
  const radius = Math.max(LEAST_RADIUS, percentile(heights, 0.5));
  return Float64Array.from([...from, radius, ...to, radius]);
}

/** Along the longest direction of the points, with the radius of their middle extent. */
function startFromSpread(points: Float32Array): Parameters {
  const count = points.length / 3;
  const mean = [0, 0, 0];
  for (let i = 0; i < points.length; i++) mean[i % 3] = mean[i % 3]! + points[i]! / count;
  const covariance = new Float64Array(9);
  for (let i = 0; i < points.length; i += 3) {
    for (let r = 0; r < 3; r++) {
      for (let c = 0; c < 3; c++) {
        covariance[3 * r + c] =
          covariance[3 * r + c]! + (points[i + r]! - mean[r]!) * (points[i + c]! - mean[c]!);
      }
    }
  }
  // Power iteration: the longest direction, to a few digits.
  let axis = [1, 0.3, 0.2];
  for (let pass = 0; pass < 60; pass++) {
    const next = [0, 1, 2].map((r) =>
      [0, 1, 2].reduce((sum, c) => sum + covariance[3 * r + c]! * axis[c]!, 0),
    );
    const length = Math.hypot(...next) || 1;
    axis = next.map((value) => value / length);
  }
  const along: number[] = [];
  const heights: number[] = [];
  for (let i = 0; i < points.length; i += 3) {
    const t = [0, 1, 2].reduce((sum, k) => sum + (points[i + k]! - mean[k]!) * axis[k]!, 0);
    along.push(t);
    heights.push(Math.hypot(...[0, 1, 2].map((k) => points[i + k]! - mean[k]! - t * axis[k]!)));
  }
  const radius = Math.max(LEAST_RADIUS, percentile(heights, 0.5));
  const low = Math.min(percentile(along, 0.02) + radius, -1e-3);
  const high = Math.max(percentile(along, 0.98) - radius, 1e-3);
  const at = (t: number): number[] => mean.map((value, k) => value + t * axis[k]!);
  return Float64Array.from([...at(low), radius, ...at(high), radius]);
}

/** Levenberg-Marquardt with differences for derivatives; never worse than the start. */
function refine(
  points: Float32Array,
  start: Parameters,
  overhangWeight: number,
): { parameters: Parameters; cost: number } {
  let parameters = tidy(start.slice());
  const anchor = parameters.slice();
  const evaluate = (p: Parameters): Float64Array => computeResiduals(points, p, anchor, overhangWeight);
  let residuals = evaluate(parameters);
  let cost = sumSquares(residuals);
  let lambda = 1e-2;
  for (let iteration = 0; iteration < ITERATIONS; iteration++) {
    const step = solveStep(parameters, residuals, evaluate, lambda);
    const tried = tidy(parameters.map((value, k) => value + step[k]!));
    const triedResiduals = evaluate(tried);
    const triedCost = sumSquares(triedResiduals);
    if (triedCost < cost) {
      parameters = tried;
      residuals = triedResiduals;
      cost = triedCost;
      lambda = Math.max(1e-6, lambda / 3);
    } else {
      lambda *= 4;
      if (lambda > 1e6) break;
    }
  }
  return { parameters, cost };
}

/** Weighted signed distances of the points, then the pull of the two ends. */
function computeResiduals(
  points: Float32Array,
  p: Parameters,
  anchor: Parameters,
  overhangWeight: number,
): Float64Array {
  const count = points.length / 3;
  const row = Float32Array.from(p);
  const hit = createCapsuleHit();
  const residuals = new Float64Array(count + 6);
  for (let i = 0; i < count; i++) {
    measureTaperedCapsule(row, 0, points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!, hit);
    const size = Math.abs(hit.distance);
    // Huber's loss as a residual: its square is the loss.
    const robust = size <= HUBER_WIDTH ? size : Math.sqrt(2 * HUBER_WIDTH * size - HUBER_WIDTH * HUBER_WIDTH);
    residuals[i] = hit.distance < 0 ? -overhangWeight * robust : robust;
  }
  const prior = END_PRIOR * Math.sqrt(count);
  [0, 1, 2, 4, 5, 6].forEach((k, i) => {
    residuals[count + i] = prior * (p[k]! - anchor[k]!);
  });
  return residuals;
}

function solveStep(
  p: Parameters,
  residuals: Float64Array,
  evaluate: (p: Parameters) => Float64Array,
  lambda: number,
): Float64Array {
  const difference = 1e-4;
  const columns = Array.from({ length: PARAMETER_COUNT }, (_, k) => {
    const moved = p.slice();
    moved[k] = moved[k]! + difference;
    return evaluate(moved).map((value, i) => (value - residuals[i]!) / difference);
  });
  const matrix: number[][] = [];
  const right: number[] = [];
  for (let r = 0; r < PARAMETER_COUNT; r++) {
    matrix.push(columns.map((column) => dot(columns[r]!, column)));
    right.push(-dot(columns[r]!, residuals));
    matrix[r]![r] = matrix[r]![r]! * (1 + lambda) + 1e-9;
  }
  return solveLinear(matrix, right);
}

/** Gaussian elimination with pivots; small systems only. */
function solveLinear(matrix: number[][], right: number[]): Float64Array {
  const n = right.length;
  for (let column = 0; column < n; column++) {
    let pivot = column;
    for (let r = column + 1; r < n; r++)
      if (Math.abs(matrix[r]![column]!) > Math.abs(matrix[pivot]![column]!)) pivot = r;
    [matrix[column], matrix[pivot]] = [matrix[pivot]!, matrix[column]!];
    [right[column], right[pivot]] = [right[pivot]!, right[column]!];
    for (let r = column + 1; r < n; r++) {
      const factor = matrix[r]![column]! / matrix[column]![column]!;
      for (let c = column; c < n; c++) matrix[r]![c] = matrix[r]![c]! - factor * matrix[column]![c]!;
      right[r] = right[r]! - factor * right[column]!;
    }
  }
  const solution = new Float64Array(n);
  for (let r = n - 1; r >= 0; r--) {
    let sum = right[r]!;
    for (let c = r + 1; c < n; c++) sum -= matrix[r]![c]! * solution[c]!;
    solution[r] = sum / matrix[r]![r]!;
  }
  return solution;
}

/** Keeps a shape one: radii positive, and the cone less steep than its length. */
function tidy(p: Parameters): Parameters {
  p[3] = Math.max(LEAST_RADIUS, p[3]!);
  p[7] = Math.max(LEAST_RADIUS, p[7]!);
  const length = Math.hypot(p[4]! - p[0]!, p[5]! - p[1]!, p[6]! - p[2]!);
  const most = 0.7 * length;
  const difference = p[3]! - p[7]!;
  if (Math.abs(difference) > most) {
    const mean = (p[3]! + p[7]!) / 2;
    p[3] = mean + (Math.sign(difference) * most) / 2;
    p[7] = mean - (Math.sign(difference) * most) / 2;
  }
  return p;
}

function dot(p: Float64Array, q: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < p.length; i++) sum += p[i]! * q[i]!;
  return sum;
}

function sumSquares(values: Float64Array): number {
  return dot(values, values);
}

function distanceBetween(a: readonly number[], b: readonly number[]): number {
  return Math.hypot(b[0]! - a[0]!, b[1]! - a[1]!, b[2]! - a[2]!);
}

function dotBetween(
  a: readonly number[],
  b: readonly number[],
  from: readonly number[],
  to: readonly number[],
): number {
  return [0, 1, 2].reduce((sum, k) => sum + (b[k]! - a[k]!) * (to[k]! - from[k]!), 0);
}
