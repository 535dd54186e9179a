import {
  addScaled,
  distanceBetween,
  dot,
  findPrincipalAxes,
  type MutableVector3,
  percentile,
  subtract,
  type Vector3,
} from '../math/index.ts';
import { type CapsuleRow, refineCapsule } from './refine-capsule.ts';
import { createCapsuleHit, measureTaperedCapsule } from './tapered-capsule-distance.ts';

export interface FitOptions {
  /** Distance to add to the fitted radii, metres. Default 0.004, typical 0 to 0.02. */
  margin?: number;
  /** How much worse a shape that stands beyond the skin is than one that leaves it bare. Default 1.6, typical 0.5 to 3. */
  overhangWeight?: number;
}

export interface FittedCapsule {
  a: MutableVector3;
  b: MutableVector3;
  radiusA: number;
  radiusB: number;
  /** Share of the points inside or within 5 mm outside. */
  coverage: number;
  /** 95th percentile of how far the shape reaches beyond the skin, metres. */
  overhang: number;
}

const COVERED_WITHIN = 0.005;
const MOST_POINTS = 500;
const LEAST_RADIUS = 0.004;
/** Points of a tube are off its axis by its radius, give or take so much of it. */
const TUBE = 0.3;
/** Points this near to a fitted shape, m, lie on it. */
const ON_SHAPE = 0.006;
/** A fit is as good as another up to this ratio of their costs. */
const AS_WELL = 1.01;

/**
 * Fits a tapered capsule to skin points around a bone: least squares on the signed distance to the skin, robust against points of
 * something else, a shape beyond the skin counting more than a gap. From three starts, the bone itself, the tube
 * around it, and the longest direction of the points (a trunk is wider than its bones are long); the best one stays.
 *
 * @param points - [n, 3] metres, at least 8.
 * @param from - Start of the bone; `to` - its end, same space.
 * @returns Null when there are too few points or the bone has no length.
 */
export function fitTaperedCapsule(
  points: Float32Array,
  from: Vector3,
  to: Vector3,
  options: FitOptions = {},
): FittedCapsule | null {
  const { margin = 0.004, overhangWeight = 1.6 } = options;
  if (points.length < 3 * 8 || distanceBetween(from, to) < 1e-4) return null;
  const used = thinOut(points);
  let best: { row: CapsuleRow; cost: number } | null = null;
  for (const start of [startFromBone(used, from, to), startFromTube(used, from, to), startFromSpread(used)]) {
    const fitted = refineCapsule(used, start, overhangWeight);
    if (!best || fitted.cost < best.cost) best = fitted;
  }
  // A straight limb does not say where it ends: the shape that ends where the points do is taken when it fits as well.
  const trimmed = refineCapsule(used, trimEnds(used, best!.row), overhangWeight);
  if (trimmed.cost < AS_WELL * best!.cost) best = trimmed;
  const [ax, ay, az, ra, bx, by, bz, rb] = best!.row as unknown as number[];
  const a: MutableVector3 = [ax!, ay!, az!];
  const b: MutableVector3 = [bx!, by!, bz!];
  const [radiusA, radiusB] = [ra! + margin, rb! + margin];
  // The same way round as the bone, so that the first end is the joint's.
  const isReversed = dot(subtract(b, a), subtract(to, from)) < 0;
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

function startFromBone(points: Float32Array, from: Vector3, to: Vector3): CapsuleRow {
  const d = subtract(to, from);
  const { heights } = measureAlong(points, from, addScaled([0, 0, 0], d, 1 / Math.sqrt(dot(d, d))));
  const radius = Math.max(LEAST_RADIUS, percentile(heights, 0.5));
  return Float64Array.from([...from, radius, ...to, radius]);
}

/** A fitted shape with its ends drawn in to where the points that lie on it end. */
function trimEnds(points: Float32Array, row: CapsuleRow): CapsuleRow {
  const [ax, ay, az, ra, bx, by, bz, rb] = row as unknown as number[];
  const a: MutableVector3 = [ax!, ay!, az!];
  const d = subtract([bx!, by!, bz!], a);
  const length = Math.sqrt(dot(d, d));
  if (length < 1e-4) return row;
  const axis = addScaled([0, 0, 0], d, 1 / length);
  const packed = Float32Array.from(row);
  const hit = createCapsuleHit();
  const { along } = measureAlong(points, a, axis);
  const on = along.filter((_, i) => {
    measureTaperedCapsule(packed, 0, points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!, hit);
    return Math.abs(hit.distance) < ON_SHAPE;
  });
  if (on.length === 0) return row;
  const low = Math.max(0, percentile(on, 0.01) + ra!);
  const high = Math.min(length, percentile(on, 0.99) - rb!);
  if (high <= low) return row;
  return Float64Array.from([...addScaled(a, axis, low), ra!, ...addScaled(a, axis, high), rb!]);
}

/** Along the bone, as far as points are about as far off it as most are: what is nearer or farther is of something else. */
function startFromTube(points: Float32Array, from: Vector3, to: Vector3): CapsuleRow {
  const d = subtract(to, from);
  const axis = addScaled([0, 0, 0], d, 1 / Math.sqrt(dot(d, d)));
  const { along, heights } = measureAlong(points, from, axis);
  const radius = Math.max(LEAST_RADIUS, percentile(heights, 0.5));
  const within = along.filter((_, i) => Math.abs(heights[i]! - radius) < TUBE * radius);
  const low = percentile(within, 0.03);
  const high = Math.max(percentile(within, 0.97), low + 1e-3);
  return Float64Array.from([...addScaled(from, axis, low), radius, ...addScaled(from, axis, high), radius]);
}

/** Along the longest direction of the points, with the radius of their middle extent. */
function startFromSpread(points: Float32Array): CapsuleRow {
  const { middle, axes } = findPrincipalAxes(points);
  const { along, heights } = measureAlong(points, middle, axes[0]);
  const radius = Math.max(LEAST_RADIUS, percentile(heights, 0.5));
  const low = Math.min(percentile(along, 0.02) + radius, -1e-3);
  const high = Math.max(percentile(along, 0.98) - radius, 1e-3);
  const at = (t: number): MutableVector3 => addScaled(middle, axes[0], t);
  return Float64Array.from([...at(low), radius, ...at(high), radius]);
}

/** How far points lie along an axis from a place on it, and how far off it, m. @param axis - Of unit length. */
function measureAlong(
  points: Float32Array,
  from: Vector3,
  axis: Vector3,
): { along: number[]; heights: number[] } {
  const along: number[] = [];
  const heights: number[] = [];
  for (let i = 0; i < points.length; i += 3) {
    const d = subtract([points[i]!, points[i + 1]!, points[i + 2]!], from);
    const t = dot(d, axis);
    along.push(t);
    heights.push(Math.sqrt(Math.max(0, dot(d, d) - t * t)));
  }
  return { along, heights };
}
