import { SpatialIndex } from '../../math/index.ts';
import { buildEdgeTable, NO_TRIANGLE } from '../edge-table.ts';
import type { Surface } from '../surface.ts';
import { listBorderSegments, measureFarthest } from './border-segments.ts';

/** Points that need not have a partner: a badge or a buckle on one side does not make a garment lopsided. */
const MOST_UNPAIRED = 0.005;
/** Points as close to the plane as this (m) lie in it. */
const ON_PLANE = 1e-5;

/** Whether a surface is its own mirror image about x = 0, within a tolerance (m). */
export function isMirrorSymmetric({ positions, triangles }: Surface, tolerance: number): boolean {
  const count = positions.length / 3;
  const sides = [0, 0];
  for (let i = 0; i < count; i++) {
    if (Math.abs(positions[3 * i]!) > ON_PLANE) sides[positions[3 * i]! > 0 ? 1 : 0]!++;
  }
  // Most sources are not, and most of those show it here.
  if (sides[0] === 0 || sides[1] === 0 || Math.min(...sides) < 0.8 * Math.max(...sides)) return false;
  const index = new SpatialIndex(positions.slice(), triangles);
  let unpaired = 0;
  for (let i = 0; i < count; i++) {
    const partner = index.findClosest(
      -positions[3 * i]!,
      positions[3 * i + 1]!,
      positions[3 * i + 2]!,
      tolerance,
    );
    if (!partner && ++unpaired > MOST_UNPAIRED * count) return false;
  }
  // A slit on one side only is no wider than a tolerance: borders must lie opposite borders.
  const borders = listBorderSegments({ positions, triangles });
  return measureFarthest(borders, borders, true) <= tolerance;
}

/** The part of a surface with x ≥ 0, cut along the plane; lines (pairs of points) with it. */
export function cutHalf(
  { positions, triangles }: Surface,
  lines: Uint32Array = new Uint32Array(0),
): { surface: Surface; lines: Uint32Array } {
  const onPlane = Array.from(positions, (value, i) =>
    i % 3 === 0 && Math.abs(value) <= ON_PLANE ? 0 : value,
  );
  const cuts = new Map<number, number>();
  const count = positions.length / 3;
  const cut = (a: number, b: number): number => {
    const [low, high] = a < b ? [a, b] : [b, a];
    const key = low * count + high;
    let point = cuts.get(key);
    if (point === undefined) {
      const t = onPlane[3 * low]! / (onPlane[3 * low]! - onPlane[3 * high]!);
      point = onPlane.length / 3;
      cuts.set(key, point);
      const at = (k: number): number =>
        onPlane[3 * low + k]! + t * (onPlane[3 * high + k]! - onPlane[3 * low + k]!);
      onPlane.push(0, at(1), at(2));
    }
    return point;
  };
  const kept: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const polygon = clip([triangles[t]!, triangles[t + 1]!, triangles[t + 2]!], onPlane, cut);
    // A triangle within the plane belongs to neither half.
    if (polygon.every((point) => onPlane[3 * point] === 0)) continue;
    for (let k = 1; k + 1 < polygon.length; k++) kept.push(polygon[0]!, polygon[k]!, polygon[k + 1]!);
  }
  const keptLines: number[] = [];
  for (let i = 0; i < lines.length; i += 2) {
    const [a, b] = [lines[i]!, lines[i + 1]!];
    const [xa, xb] = [onPlane[3 * a]!, onPlane[3 * b]!];
    if (xa >= 0 && xb >= 0) keptLines.push(a, b);
    else if (xa > 0 || xb > 0) keptLines.push(xa > 0 ? a : b, cut(a, b));
  }
  return compactSurface(Float32Array.from(onPlane), Uint32Array.from(kept), Uint32Array.from(keptLines));
}

/** The corners of a triangle's part with x ≥ 0, in order. */
function clip(corners: number[], positions: number[], cut: (a: number, b: number) => number): number[] {
  const polygon: number[] = [];
  corners.forEach((from, k) => {
    const to = corners[(k + 1) % 3]!;
    const [x, next] = [positions[3 * from]!, positions[3 * to]!];
    if (x >= 0) polygon.push(from);
    if ((x > 0 && next < 0) || (x < 0 && next > 0)) polygon.push(cut(from, to));
  });
  return polygon;
}

function compactSurface(
  positions: Float32Array,
  triangles: Uint32Array,
  lines: Uint32Array,
): { surface: Surface; lines: Uint32Array } {
  const numbers = new Int32Array(positions.length / 3).fill(-1);
  let count = 0;
  for (const corner of triangles) if (numbers[corner]! < 0) numbers[corner] = count++;
  const kept = new Float32Array(3 * count);
  numbers.forEach((to, from) => {
    if (to >= 0) kept.set(positions.subarray(3 * from, 3 * from + 3), 3 * to);
  });
  const isWhole = (i: number): boolean =>
    numbers[lines[i - (i % 2)]!]! >= 0 && numbers[lines[i - (i % 2) + 1]!]! >= 0;
  return {
    surface: { positions: kept, triangles: triangles.map((corner) => numbers[corner]!) },
    lines: lines.filter((_, i) => isWhole(i)).map((point) => numbers[point]!),
  };
}

/** A half (x ≥ 0) with its mirror image, joined along its open edges where x = 0. */
export function joinHalves({ positions, triangles }: Surface): Surface {
  const count = positions.length / 3;
  const mirrored = new Int32Array(count).fill(-1);
  for (const point of listOnPlane({ positions, triangles })) mirrored[point] = point;
  const more: number[] = [];
  for (let p = 0; p < count; p++) {
    if (mirrored[p]! >= 0) continue;
    mirrored[p] = count + more.length / 3;
    more.push(-positions[3 * p]! + 0, positions[3 * p + 1]!, positions[3 * p + 2]!);
  }
  const sides = new Uint32Array(2 * triangles.length);
  sides.set(triangles);
  for (let t = 0; t < triangles.length; t += 3) {
    const to = triangles.length + t;
    sides[to] = mirrored[triangles[t]!]!;
    sides[to + 1] = mirrored[triangles[t + 2]!]!;
    sides[to + 2] = mirrored[triangles[t + 1]!]!;
  }
  const both = new Float32Array(positions.length + more.length);
  both.set(positions);
  both.set(more, positions.length);
  return { positions: both, triangles: sides };
}

/** Points of open edges that lie in the plane x = 0 whole: where a half is cut. */
function listOnPlane({ positions, triangles }: Surface): Set<number> {
  const table = buildEdgeTable(triangles, positions.length / 3);
  const points = new Set<number>();
  for (let e = 0; e < table.edgeCount; e++) {
    const ends = [table.edges[2 * e]!, table.edges[2 * e + 1]!];
    if (table.triangles[2 * e + 1] !== NO_TRIANGLE || ends.some((point) => positions[3 * point] !== 0))
      continue;
    for (const point of ends) points.add(point);
  }
  return points;
}
