import type { SurfaceFront } from '../mesh/index.ts';
import { computeFalloff, type Falloff } from './falloff.ts';

/** Where a brush is put down, and how. */
export interface BrushPosition {
  /** Middle of the brush, metres, in the space of `positions`. */
  center: readonly [number, number, number];
  /** Metres. */
  radius: number;
  /** 0 to 1: how much of the way to the wanted value one dab goes at its middle. */
  strength: number;
  falloff: Falloff;
  /** From the eye into the picture, unit length. With `normalAtHit` it limits the dab to the side that is seen. */
  view?: readonly [number, number, number];
  /** Normal of the surface under the cursor. */
  normalAtHit?: readonly [number, number, number];
  /**
   * Corners of the triangle under the cursor: distances are then measured along the surface from there, so that a panel
   * behind, or the other side of a fold, is not touched. Without it all within the ball are.
   */
  along?: readonly [number, number, number];
}

export interface TouchedSurface {
  /** Points where they are drawn now, [n, stride]. */
  positions: Float32Array;
  stride: number;
  /** [n, 3] unit length. */
  normals: Float32Array;
  /** Over the same points; needed for `along`. */
  front?: SurfaceFront;
}

/** Points under a brush and how much each is, above 0 to 1. */
export interface TouchedPoints {
  /** Rising. */
  points: number[];
  weights: number[];
}

/** The points that a brush touches. O(n) for a ball, O(k log k) along the surface for k points within. */
export function touchPoints(surface: TouchedSurface, position: BrushPosition): TouchedPoints {
  const { normals } = surface;
  const { radius, strength, falloff, view, normalAtHit } = position;
  const seenSide = view && normalAtHit ? Math.sign(dot(view, normalAtHit, 0)) : 0;
  const touched: TouchedPoints = { points: [], weights: [] };
  const offer = (point: number, distance: number): void => {
    if (seenSide !== 0 && Math.sign(dot(view!, normals, 3 * point)) !== seenSide) return;
    const weight = strength * computeFalloff(falloff, distance / radius);
    if (!(weight > 0)) return;
    touched.points.push(point);
    touched.weights.push(weight);
  };
  if (position.along && surface.front) walkAlong(surface, surface.front, position, offer);
  else scanBall(surface, position, offer);
  return touched;
}

function scanBall(
  { positions, stride }: TouchedSurface,
  { center: [cx, cy, cz], radius }: BrushPosition,
  offer: (point: number, distance: number) => void,
): void {
  const radiusSquared = radius * radius;
  const count = Math.floor(positions.length / stride);
  for (let i = 0; i < count; i++) {
    const dx = positions[stride * i]! - cx;
    const dy = positions[stride * i + 1]! - cy;
    const dz = positions[stride * i + 2]! - cz;
    const distanceSquared = dx * dx + dy * dy + dz * dz;
    if (distanceSquared < radiusSquared) offer(i, Math.sqrt(distanceSquared));
  }
}

function walkAlong(
  { positions, stride }: TouchedSurface,
  front: SurfaceFront,
  { center, radius, along }: BrushPosition,
  offer: (point: number, distance: number) => void,
): void {
  const seeds = along!.map((point) => ({
    point,
    distance: Math.hypot(...[0, 1, 2].map((k) => positions[stride * point + k]! - center[k]!)),
    source: 0,
  }));
  const reached = front.walk(positions, stride, seeds, radius);
  for (const point of reached.sort((p, q) => p - q)) offer(point, front.distances[point]!);
}

function dot(a: readonly number[], b: ArrayLike<number>, o: number): number {
  return a[0]! * b[o]! + a[1]! * b[o + 1]! + a[2]! * b[o + 2]!;
}

/** Points touched by either of two brushes, each as much as by the one that touches it more. */
export function joinTouched(first: TouchedPoints, second: TouchedPoints): TouchedPoints {
  const joined: TouchedPoints = { points: [], weights: [] };
  for (let i = 0, j = 0; i < first.points.length || j < second.points.length; ) {
    const p = first.points[i] ?? Number.POSITIVE_INFINITY;
    const q = second.points[j] ?? Number.POSITIVE_INFINITY;
    joined.points.push(Math.min(p, q));
    joined.weights.push(Math.max(p <= q ? first.weights[i]! : 0, q <= p ? second.weights[j]! : 0));
    if (p <= q) i++;
    if (q <= p) j++;
  }
  return joined;
}
