import { createCapsuleHit, measureTaperedCapsule } from './tapered-capsule-distance.ts';

export interface FitOptions {
  /** Distance to add to the fitted radii, metres. Default 0.004, typical 0 to 0.02. */
  margin?: number;
  /** Share of points (0 to 1) that may stand out of the shape before it grows. Default 0.15. */
  outlierShare?: number;
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

const COVERED_WITHIN = 0.005;
const REFINEMENTS = 12;

/**
 * Fits a tapered capsule to skin points around a bone.
 *
 * The axis starts as the bone, and is moved sideways at both ends to the middle of the points around it; radii
 * come from a robust line through the points' distances to the axis (iteratively reweighted least squares with
 * Tukey's weight), so that a few points of a neighbouring limb do not swell the shape.
 *
 * @param points - [n, 3] metres, at least 8.
 * @param from - Start of the bone; `to` - its end, same space.
 * @returns Null when there are too few points or the bone has no length.
 *
 * Reference for the weights: A. E. Beaton and J. W. Tukey, *The fitting of power series, meaning polynomials,
 * illustrated on band-spectroscopic data*, Technometrics 16, 1974.
 */
export function fitTaperedCapsule(
  points: Float32Array,
  from: readonly [number, number, number],
  to: readonly [number, number, number],
  options: FitOptions = {},
): FittedCapsule | null {
  const { margin = 0.004, outlierShare = 0.15 } = options;
  const count = points.length / 3;
  const a: [number, number, number] = [...from];
  const b: [number, number, number] = [...to];
  if (count < 8 || distanceBetween(a, b) < 1e-4) return null;
  let line = { atA: 0, atB: 0 };
  for (let pass = 0; pass < REFINEMENTS; pass++) {
    const rows = measureAround(points, a, b);
    line = fitRadiusLine(rows);
    moveAxisToMiddle(points, rows, line, a, b);
  }
  const rows = measureAround(points, a, b);
  line = fitRadiusLine(rows);
  const standingOut = rows.height.map((height, i) => height - radiusAt(line, rows.along[i]!));
  const lift = percentile(standingOut, 1 - outlierShare);
  let radiusA = Math.max(0.005, line.atA + Math.max(lift, 0));
  let radiusB = Math.max(0.005, line.atB + Math.max(lift, 0));
  pullEndsIn(points, a, b, radiusA, radiusB);
  const length = distanceBetween(a, b);
  // A cone steeper than its length is a sphere; keep the hull of two spheres well formed.
  const steepest = 0.8 * length;
  if (Math.abs(radiusA - radiusB) > steepest) {
    const mean = (radiusA + radiusB) / 2;
    const half = (Math.sign(radiusA - radiusB) * steepest) / 2;
    radiusA = mean + half;
    radiusB = mean - half;
  }
  radiusA += margin;
  radiusB += margin;
  return { a, b, radiusA, radiusB, ...measureFit(points, a, b, radiusA, radiusB) };
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

interface AroundAxis {
  along: Float64Array;
  height: Float64Array;
}

function measureAround(points: Float32Array, a: readonly number[], b: readonly number[]): AroundAxis {
  const count = points.length / 3;
  const along = new Float64Array(count);
  const height = new Float64Array(count);
  const d = [b[0]! - a[0]!, b[1]! - a[1]!, b[2]! - a[2]!];
  const dd = d[0]! ** 2 + d[1]! ** 2 + d[2]! ** 2;
  for (let i = 0; i < count; i++) {
    const p = [points[3 * i]! - a[0]!, points[3 * i + 1]! - a[1]!, points[3 * i + 2]! - a[2]!];
    const t = (p[0]! * d[0]! + p[1]! * d[1]! + p[2]! * d[2]!) / dd;
    along[i] = t;
    height[i] = Math.hypot(p[0]! - t * d[0]!, p[1]! - t * d[1]!, p[2]! - t * d[2]!);
  }
  return { along, height };
}

/** Robust straight line height(along), as its values at both ends. Points beyond the ends do not count. */
function fitRadiusLine(rows: AroundAxis): { atA: number; atB: number } {
  const used: number[] = [];
  for (let i = 0; i < rows.along.length; i++) if (rows.along[i]! >= 0 && rows.along[i]! <= 1) used.push(i);
  if (used.length < 4) used.splice(0, used.length, ...rows.along.keys());
  let atA = percentile(
    used.map((i) => rows.height[i]!),
    0.5,
  );
  let slope = 0;
  for (let pass = 0; pass < 8; pass++) {
    const residuals = used.map((i) => rows.height[i]! - atA - slope * rows.along[i]!);
    const cut =
      4.685 *
      1.4826 *
      Math.max(
        1e-5,
        percentile(
          residuals.map((residual) => Math.abs(residual)),
          0.5,
        ),
      );
    let s0 = 0;
    let s1 = 0;
    let s2 = 0;
    let h0 = 0;
    let h1 = 0;
    used.forEach((i, k) => {
      const u = residuals[k]! / cut;
      const w = Math.abs(u) < 1 ? (1 - u * u) ** 2 : 0;
      const t = rows.along[i]!;
      s0 += w;
      s1 += w * t;
      s2 += w * t * t;
      h0 += w * rows.height[i]!;
      h1 += w * t * rows.height[i]!;
    });
    const determinant = s0 * s2 - s1 * s1;
    if (determinant < 1e-9 * s0 * s0) break;
    atA = (s2 * h0 - s1 * h1) / determinant;
    slope = (s0 * h1 - s1 * h0) / determinant;
  }
  return { atA, atB: atA + slope };
}

function radiusAt(line: { atA: number; atB: number }, along: number): number {
  const t = Math.max(0, Math.min(1, along));
  return line.atA + t * (line.atB - line.atA);
}

/** Moves each end sideways by the mean offset of the trusted points near it. */
function moveAxisToMiddle(
  points: Float32Array,
  rows: AroundAxis,
  line: { atA: number; atB: number },
  a: [number, number, number],
  b: [number, number, number],
): void {
  const d = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  for (const [end, endAlong] of [
    [a, 0],
    [b, 1],
  ] as const) {
    const mean = [0, 0, 0];
    let total = 0;
    for (let i = 0; i < rows.along.length; i++) {
      const t = rows.along[i]!;
      if (t < -0.1 || t > 1.1 || rows.height[i]! > 2 * radiusAt(line, t)) continue;
      const w = Math.max(0, 1 - Math.abs(t - endAlong) * 1.6);
      for (let k = 0; k < 3; k++) {
        const axis = (endAlong === 0 ? a : b)[k]! + (t - endAlong) * d[k]!;
        mean[k] = mean[k]! + w * (points[3 * i + k]! - axis);
      }
      total += w;
    }
    if (total > 0) for (let k = 0; k < 3; k++) end[k] = end[k]! + (0.5 * mean[k]!) / total;
  }
}

/** Shortens the axis where a round end would stand far beyond the last skin point along it. */
function pullEndsIn(
  points: Float32Array,
  a: [number, number, number],
  b: [number, number, number],
  radiusA: number,
  radiusB: number,
): void {
  const rows = measureAround(points, a, b);
  const length = distanceBetween(a, b);
  const low = percentile(rows.along, 0.02);
  const high = percentile(rows.along, 0.98);
  const start = Math.min(0.45, Math.max(0, low + radiusA / length));
  const end = Math.max(0.55, Math.min(1, high - radiusB / length));
  const d = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  for (let k = 0; k < 3; k++) {
    b[k] = a[k]! + end * d[k]!;
    a[k] = a[k]! + start * d[k]!;
  }
}

function distanceBetween(a: readonly number[], b: readonly number[]): number {
  return Math.hypot(b[0]! - a[0]!, b[1]! - a[1]!, b[2]! - a[2]!);
}

function percentile(values: ArrayLike<number>, share: number): number {
  if (values.length === 0) return 0;
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]!;
}
