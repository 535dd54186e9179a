import { dot, type MutableVector3, SpatialIndex, writeTriangleCross } from '../math/index.ts';
import { measureOnTriangle } from '../mesh/index.ts';
import type { CompiledGarment } from './compiled-garment.ts';

/** Lining points and the place of the outer shell that each rides on. */
export interface LiningBinding {
  /** [k] */
  points: Uint32Array;
  /** Corners of the triangle, [k, 3], and how much each counts, [k, 3]. */
  corners: Uint32Array;
  weights: Float32Array;
  /** Metres outward along the triangle's normal (negative: inside). [k] */
  heights: Float32Array;
}

/**
 * Binds each lining point to the nearest triangle of the outer shell (triangles without lining corners) at rest.
 * Without an outer shell nothing is bound.
 *
 * @param isLining - [n].
 */
export function bindLining(garment: CompiledGarment, isLining: Uint8Array): LiningBinding {
  const { triangles, restPositions, pointCount } = garment;
  const outer: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const corners = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
    if (!corners.some((corner) => isLining[corner])) outer.push(...corners);
  }
  const points =
    outer.length === 0 ? [] : Array.from({ length: pointCount }, (_, i) => i).filter((i) => isLining[i]);
  const binding: LiningBinding = {
    points: Uint32Array.from(points),
    corners: new Uint32Array(3 * points.length),
    weights: new Float32Array(3 * points.length),
    heights: new Float32Array(points.length),
  };
  if (points.length === 0) return binding;
  const positions = new Float32Array(3 * pointCount);
  for (let i = 0; i < pointCount; i++) positions.set(restPositions.subarray(4 * i, 4 * i + 3), 3 * i);
  const index = new SpatialIndex(positions, Uint32Array.from(outer));
  points.forEach((point, k) => {
    const position = [0, 1, 2].map((c) => restPositions[4 * point + c]!) as [number, number, number];
    const closest = index.findClosest(...position, Number.POSITIVE_INFINITY);
    if (!closest) return;
    const corners = outer.slice(3 * closest.triangle, 3 * closest.triangle + 3);
    binding.corners.set(corners, 3 * k);
    const { weights, height } = measureOnTriangle(restPositions, 4, corners, position);
    binding.weights.set(weights, 3 * k);
    binding.heights[k] = height;
  });
  return binding;
}

/**
 * Area that each point carries when the lining's is shared out among the corners that it rides on: more than its own, never less,
 * also where a lining point lies beside its triangle and a corner's weight is below 0. 0 for the lining itself.
 *
 * @param pointAreas - Of the points themselves, [n], m².
 */
export function shareLiningAreas(
  { points, corners, weights }: LiningBinding,
  pointAreas: Float32Array,
): Float32Array {
  const areas = pointAreas.slice();
  points.forEach((point, k) => {
    const parts = [0, 1, 2].map((c) => Math.max(0, weights[3 * k + c]!));
    const whole = parts.reduce((sum, part) => sum + part, 0);
    parts.forEach((part, c) => {
      const corner = corners[3 * k + c]!;
      if (whole > 0) areas[corner] = areas[corner]! + (part / whole) * pointAreas[point]!;
    });
    areas[point] = 0;
  });
  return areas;
}

/** Puts the lining on the outer shell. @param x - [n, 4], changed; v - velocities, [n, 4], changed. */
export function carryLining(
  { points, corners, weights, heights }: LiningBinding,
  x: Float32Array,
  v: Float32Array,
): void {
  const n: MutableVector3 = [0, 0, 0];
  for (let k = 0; k < points.length; k++) {
    const [a, b, c] = [4 * corners[3 * k]!, 4 * corners[3 * k + 1]!, 4 * corners[3 * k + 2]!];
    writeTriangleCross(x, a, b, c, n);
    const length = Math.sqrt(dot(n, n));
    const scale = length > 0 ? heights[k]! / length : 0;
    const o = 4 * points[k]!;
    for (let i = 0; i < 3; i++) {
      const blend = (rows: Float32Array): number =>
        weights[3 * k]! * rows[a + i]! +
        weights[3 * k + 1]! * rows[b + i]! +
        weights[3 * k + 2]! * rows[c + i]!;
      x[o + i] = blend(x) + scale * n[i]!;
      v[o + i] = blend(v);
    }
  }
}
