import { type CapsuleRow, createCapsuleHit, measureTaperedCapsule, refineCapsule } from '../bodies/index.ts';
import { addScaled, findPrincipalAxes, measureExtent, percentile, type Vector3 } from '../math/index.ts';

export interface CapsuleFit {
  /** [count, 8] ax ay az ra bx by bz rb, m, without a margin. */
  rows: Float32Array;
  /** Share of the points within, or no farther outside than 5 mm, with the margin. */
  coverage: number;
  /** 95th percentile of how deep points lie within, with the margin, m. */
  overhang: number;
}

export interface CapsuleFitOptions {
  /** Capsules side by side. */
  count: number;
  /** Added to the radii when they are judged, m. */
  margin: number;
  /** Points that are looked at for each capsule, at most. */
  most?: number;
}

/** Rounds of giving each point to the nearest shape and fitting again. */
const ROUNDS = 3;
/** Bare up to this far off, m, is as good as covered. */
const NEAR = 0.005;
/** A shape that stands beyond the skin is worse than one that leaves it bare by this. */
const OVERHANG_WEIGHT = 1.6;
const LEAST_POINTS = 16;
/** Overhang counts from here on, m, and so much of it as a whole share of bare skin. */
const FREE_OVERHANG = 0.008;
const OVERHANG_AS_BARE = 0.03;

/**
 * Fits tapered capsules to skin points: side by side along each main direction of the points and lying along each other, whichever
 * covers best; each round gives every point to the shape whose surface is nearest.
 *
 * @param points - [n, 3] m, at least 16 for each.
 * @returns Null when some shape is left without points.
 */
export function fitCapsules(points: Float32Array, options: CapsuleFitOptions): CapsuleFit | null {
  const { count, most = 240 } = options;
  const used = thinOut(points, most * count);
  const { axes } = findPrincipalAxes(used);
  let best: CapsuleFit | null = null;
  for (const along of count === 1 ? [0, 1] : [0, 1, 2]) {
    for (const across of count === 1 ? [0] : [0, 1, 2]) {
      // Rows of balls in a line are one capsule, and rows along their own direction too.
      if (count > 1 && along === across) continue;
      const fitted = fitAlong(used, axes[along]!, axes[across]!, options);
      if (fitted && (!best || score(fitted) < score(best))) best = fitted;
    }
  }
  return best;
}

/** What is bad about a fit: bare skin, and what stands beyond it. */
export function score({ coverage, overhang }: Pick<CapsuleFit, 'coverage' | 'overhang'>): number {
  return 1 - coverage + Math.max(0, overhang - FREE_OVERHANG) / OVERHANG_AS_BARE;
}

function fitAlong(
  points: Float32Array,
  along: Vector3,
  across: Vector3,
  { count, margin }: CapsuleFitOptions,
): CapsuleFit | null {
  const { middle } = findPrincipalAxes(points);
  const [least, most] = measureExtent(points, middle, across);
  const width = (most - least) / count;
  let groups = splitBy(points, count, (i) => {
    const at = [0, 1, 2].reduce((sum, k) => sum + (points[i + k]! - middle[k]!) * across[k]!, 0);
    return Math.min(count - 1, Math.floor((at - least) / width));
  });
  let rows = new Float32Array(0);
  for (let round = 0; round < (count === 1 ? 1 : ROUNDS); round++) {
    const fitted: number[] = [];
    for (const [i, group] of groups.entries()) {
      if (group.length < 3 * LEAST_POINTS) return null;
      const own = Float32Array.from(group);
      const start = round === 0 ? startAlong(own, along) : Float64Array.from(rows.subarray(8 * i, 8 * i + 8));
      fitted.push(...refineCapsule(own, start, OVERHANG_WEIGHT).row);
    }
    rows = Float32Array.from(fitted);
    const hit = createCapsuleHit();
    groups = splitBy(points, count, (i) => findNearest(rows, points, i, hit));
  }
  const grown = rows.map((value, i) => (i % 4 === 3 ? value + margin : value));
  return { rows, ...judgeCapsules(points, grown) };
}

function findNearest(rows: Float32Array, points: Float32Array, i: number, hit = createCapsuleHit()): number {
  let best = 0;
  let bestDistance = Number.POSITIVE_INFINITY;
  for (let c = 0; c < rows.length / 8; c++) {
    measureTaperedCapsule(rows, 8 * c, points[i]!, points[i + 1]!, points[i + 2]!, hit);
    if (hit.distance >= bestDistance) continue;
    bestDistance = hit.distance;
    best = c;
  }
  return best;
}

/** Along a direction, as long and wide as the points are. */
function startAlong(points: Float32Array, along: Vector3): CapsuleRow {
  const { middle } = findPrincipalAxes(points);
  const heights: number[] = [];
  for (let i = 0; i < points.length; i += 3) {
    const d = [0, 1, 2].map((k) => points[i + k]! - middle[k]!);
    const t = d.reduce((sum, value, k) => sum + value * along[k]!, 0);
    heights.push(Math.sqrt(Math.max(0, d.reduce((sum, value) => sum + value * value, 0) - t * t)));
  }
  const radius = Math.max(0.004, percentile(heights, 0.5));
  const [least, most] = measureExtent(points, middle, along);
  const low = Math.min(least + radius, -1e-3);
  const high = Math.max(most - radius, 1e-3);
  return Float64Array.from([
    ...addScaled(middle, along, low),
    radius,
    ...addScaled(middle, along, high),
    radius,
  ]);
}

/** How well shapes cover points together. @param rows - [count, 8] m. */
function judgeCapsules(points: Float32Array, rows: Float32Array): Pick<CapsuleFit, 'coverage' | 'overhang'> {
  const hit = createCapsuleHit();
  const depths: number[] = [];
  let covered = 0;
  for (let i = 0; i < points.length; i += 3) {
    let least = Number.POSITIVE_INFINITY;
    for (let o = 0; o < rows.length; o += 8) {
      measureTaperedCapsule(rows, o, points[i]!, points[i + 1]!, points[i + 2]!, hit);
      least = Math.min(least, hit.distance);
    }
    if (least <= NEAR) covered++;
    depths.push(Math.max(0, -least));
  }
  return { coverage: covered / (points.length / 3), overhang: percentile(depths, 0.95) };
}

/** Every k-th point. */
function thinOut(points: Float32Array, most: number): Float32Array {
  const count = points.length / 3;
  const stride = Math.max(1, Math.ceil(count / most));
  const thin: number[] = [];
  for (let i = 0; i < count; i += stride) thin.push(points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!);
  return Float32Array.from(thin);
}

function splitBy(points: Float32Array, count: number, groupOf: (i: number) => number): number[][] {
  const groups: number[][] = Array.from({ length: count }, () => []);
  for (let i = 0; i < points.length; i += 3)
    groups[groupOf(i)]!.push(points[i]!, points[i + 1]!, points[i + 2]!);
  return groups;
}
