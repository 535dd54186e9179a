import type { FrameNumbers } from '../frame-numbers.ts';
import {
  MEETING_SLACK,
  MEETING_WAYS,
  MOST_PUSH_SPEED,
  RECOVERY_SPEED,
  SURFACE_DEPTH,
} from '../kernel/assembly/constants.ts';
import { NONE, type SolverState, type SurfaceState } from '../solver-state.ts';
import { closestPoint, writeClosest } from './closest-point.ts';
import { BLOCK_POINTS } from './fast-blocks.ts';
import { buildPointHash, hashCell } from './point-hash.ts';

/** Farthest (m) that a surface is looked for, however fast the point. */
export const MOST_SEARCH = 0.3;
/** The nearest point of a surface lies beside the foot by no more than this share of its edges. */
export const SEARCH_EDGES = 1.2;

/** Taken off the way that a point may move before it is looked at again, m: normals turn along the surface. */
export const CLEARANCE_SLACK = 0.002;
/** Heights above a point and above the triangles around it differ by less than this share of the edges. */
export const SEARCH_SPACINGS = 0.5;
/** A point goes from triangle to neighbouring triangle; in every so many frames the whole surface is searched. */
export const SEARCH_EVERY = 8;

/**
 * For every free point the triangle of a surface that it may touch in this frame, or NONE: the nearest of those around
 * the nearest point of the surface, as both stand at the start of the frame. Points that start deep inside have lost
 * the surface already and are left alone; those too far off to come near in this frame are not looked at again.
 *
 * @param isFastOnly - Of the blocks that look for it in every substep alone.
 */
export function findNearestTriangles(
  state: SolverState,
  surface: SurfaceState,
  pointCount: number,
  frame: FrameNumbers,
  isFastOnly = false,
): void {
  const { positions: x, velocities: v, inverseMasses } = state;
  const { from, nearest, nearPoints, clearances, fastBlocks } = surface;
  updateCentres(surface);
  const beside = SEARCH_EDGES * surface.spacing;
  const cellSize = 0.5 * (surface.distance + SURFACE_DEPTH + beside);
  buildPointHash(state, from, surface.pointCount, cellSize);
  const fastest = measureFastest(surface);
  for (let i = 0; i < pointCount; i++) {
    if (isFastOnly && !fastBlocks[Math.floor(i / BLOCK_POINTS)]) continue;
    nearest[i] = NONE;
    if (inverseMasses[i] === 0) continue;
    const o = 4 * i;
    const position: Position = [x[o]!, x[o + 1]!, x[o + 2]!];
    const speed = Math.sqrt(v[o]! * v[o]! + v[o + 1]! * v[o + 1]! + v[o + 2]! * v[o + 2]!);
    const limit = surface.distance + MEETING_WAYS * (frame.seconds * speed + fastest) + MEETING_SLACK;
    const reach = Math.min(MOST_SEARCH, Math.max(limit, SURFACE_DEPTH) + beside);
    const isDue = ((i >> 4) + frame.index) % SEARCH_EVERY === 0;
    let point = nearPoints[i]! - 1;
    if (isDue || point < 0) {
      point = findPointNear(state, from, position, reach, cellSize);
      nearPoints[i] = point + 1;
      if (point < 0) continue;
    }
    const offset = position.map((value, k) => value - from[4 * point + k]!);
    if (offset[0]! ** 2 + offset[1]! ** 2 + offset[2]! ** 2 > reach * reach) continue;
    // Far above the nearest point it is far above the triangles around that, too.
    const above = offset.reduce((sum, value, k) => sum + value * surface.normals[4 * point + k]!, 0);
    if (above > limit + SEARCH_SPACINGS * surface.spacing) continue;
    const triangle = findTriangleAround(surface, point, ...position);
    if (triangle === NONE) continue;
    nearPoints[i] = findNearestCorner(surface, triangle, position) + 1;
    const height = measureHeight(surface, from, from, 0, triangle, ...position);
    if (height < -SURFACE_DEPTH || height > limit) continue;
    nearest[i] = triangle;
    clearances[i] = Math.max(0, height - surface.distance - fastest - CLEARANCE_SLACK);
  }
}

type Position = [number, number, number];

/** `findNearestTriangles` for one substep, of the blocks that move fast against the surface: with the surface as it moves in it, from where the points were at its start. */
export function findInSubstep(
  state: SolverState,
  surface: SurfaceState,
  pointCount: number,
  frame: FrameNumbers,
  substep: number,
): void {
  const { from, to, subFrom, subTo } = surface;
  const { substeps } = frame;
  const [first, last] = [substep / substeps, (substep + 1) / substeps];
  for (let o = 0; o < from.length; o++) {
    subFrom[o] = from[o]! + first * (to[o]! - from[o]!);
    subTo[o] = from[o]! + last * (to[o]! - from[o]!);
  }
  const index = frame.index * substeps + substep;
  const { predicted, velocities: v } = state;
  const positions = predicted.map((value, o) => value - frame.h * v[o]!);
  const own = { ...frame, seconds: frame.h, index };
  findNearestTriangles(
    { ...state, positions },
    { ...surface, from: subFrom, to: subTo },
    pointCount,
    own,
    true,
  );
  // They would count from the start of the frame.
  for (let i = 0; i < pointCount; i++)
    if (surface.fastBlocks[Math.floor(i / BLOCK_POINTS)]) surface.clearances[i] = 0;
}

/** The point of a hashed surface that is nearest to a place within reach, the lowest of several; -1: none. */
function findPointNear(
  { hashStart, hashList }: SolverState,
  from: Float32Array,
  position: Position,
  reach: number,
  cellSize: number,
): number {
  const scale = 1 / cellSize;
  const low = position.map((value) => Math.floor((value - reach) * scale)) as Position;
  const high = position.map((value) => Math.floor((value + reach) * scale)) as Position;
  let best = reach * reach;
  let point = -1;
  for (let cz = low[2]; cz <= high[2]; cz++) {
    for (let cy = low[1]; cy <= high[1]; cy++) {
      for (let cx = low[0]; cx <= high[0]; cx++) {
        const cell = hashCell(cx, cy, cz);
        for (let k = hashStart[cell]!; k < hashStart[cell + 1]!; k++) {
          const j = hashList[k]!;
          const squared = measureSquared(from, j, position);
          if (squared > best || (squared === best && !(j < point))) continue;
          best = squared;
          point = j;
        }
      }
    }
  }
  return point;
}

function measureSquared(rows: Float32Array, i: number, [x, y, z]: Position): number {
  const dx = rows[4 * i]! - x;
  const dy = rows[4 * i + 1]! - y;
  const dz = rows[4 * i + 2]! - z;
  return dx * dx + dy * dy + dz * dz;
}

/** The corner of a triangle that is nearest to a place. */
function findNearestCorner({ from, triangles }: SurfaceState, triangle: number, position: Position): number {
  let best = triangles[3 * triangle]!;
  for (let k = 1; k < 3; k++) {
    const corner = triangles[3 * triangle + k]!;
    if (measureSquared(from, corner, position) < measureSquared(from, best, position)) best = corner;
  }
  return best;
}

/** The nearest of the two triangles around a point whose centres are nearest to a place. */
function findTriangleAround(
  surface: SurfaceState,
  point: number,
  px: number,
  py: number,
  pz: number,
): number {
  const { from, centres, aroundStart, aroundList } = surface;
  let first = NONE;
  let second = NONE;
  let least = Number.POSITIVE_INFINITY;
  let next = Number.POSITIVE_INFINITY;
  for (let k = aroundStart[point]!; k < aroundStart[point + 1]!; k++) {
    const t = aroundList[k]!;
    const dx = centres[4 * t]! - px;
    const dy = centres[4 * t + 1]! - py;
    const dz = centres[4 * t + 2]! - pz;
    const squared = dx * dx + dy * dy + dz * dz;
    if (squared < least) {
      next = least;
      second = first;
      least = squared;
      first = t;
    } else if (squared < next) {
      next = squared;
      second = t;
    }
  }
  if (second === NONE) return first;
  findClosestPoint(surface, from, from, 0, first, px, py, pz);
  const closest = closestPoint.squared;
  findClosestPoint(surface, from, from, 0, second, px, py, pz);
  return closestPoint.squared < closest ? second : first;
}

/** Centres of the triangles as they stand at the start of the frame. */
function updateCentres({ from, centres, triangles, triangleCount }: SurfaceState): void {
  for (let t = 0; t < triangleCount; t++) {
    for (let k = 0; k < 3; k++) {
      const sum =
        from[4 * triangles[3 * t]! + k]! +
        from[4 * triangles[3 * t + 1]! + k]! +
        from[4 * triangles[3 * t + 2]! + k]!;
      centres[4 * t + k] = sum / 3;
    }
  }
}

/** Farthest that any point of the surface moves in this frame, m. */
function measureFastest({ from, to, pointCount }: SurfaceState): number {
  let most = 0;
  for (let o = 0; o < 4 * pointCount; o += 4) {
    const dx = to[o]! - from[o]!;
    const dy = to[o + 1]! - from[o + 1]!;
    const dz = to[o + 2]! - from[o + 2]!;
    most = Math.max(most, dx * dx + dy * dy + dz * dz);
  }
  return Math.sqrt(most);
}

/** Keeps points the margin outside of their triangle of a surface, with friction against its motion. */
export function solveSurface(
  state: SolverState,
  surface: SurfaceState,
  pointCount: number,
  frame: FrameNumbers,
  share: number,
): void {
  const { positions: x, velocities: v, predicted, inverseMasses, goodPositions: start } = state;
  const { from, to, nearest, clearances, triangles } = surface;
  const { friction, h, substeps } = frame;
  const { distance } = surface;
  // Beside an open border the foot is on the border: the surface does not reach there.
  const beside = (distance + 0.5 * surface.spacing) ** 2;
  for (let i = 0; i < pointCount; i++) {
    const t = nearest[i]!;
    if (t === NONE || inverseMasses[i] === 0) continue;
    const o = 4 * i;
    const sx = x[o]! - start[o]!;
    const sy = x[o + 1]! - start[o + 1]!;
    const sz = x[o + 2]! - start[o + 2]!;
    if (sx * sx + sy * sy + sz * sz < clearances[i]! * clearances[i]!) continue;
    const height = measureHeight(surface, from, to, share, t, x[o]!, x[o + 1]!, x[o + 2]!);
    const depth = distance - height;
    if (depth <= 0 || closestPoint.squared - height * height > beside) continue;
    const a = 4 * triangles[3 * t]!;
    const b = 4 * triangles[3 * t + 1]!;
    const c = 4 * triangles[3 * t + 2]!;
    const wb = closestPoint.b;
    const wc = closestPoint.c;
    const wa = 1 - wb - wc;
    const displacementOf = (k: number): number =>
      (wa * (to[a + k]! - from[a + k]!) +
        wb * (to[b + k]! - from[b + k]!) +
        wc * (to[c + k]! - from[c + k]!)) /
      substeps;
    const mx = x[o]! - predicted[o]! + h * v[o]! - displacementOf(0);
    const my = x[o + 1]! - predicted[o + 1]! + h * v[o + 1]! - displacementOf(1);
    const mz = x[o + 2]! - predicted[o + 2]! + h * v[o + 2]! - displacementOf(2);
    const [nx, ny, nz] = normal;
    const normalDisplacement = mx * nx + my * ny + mz * nz;
    const inertial =
      (h * v[o]! - displacementOf(0)) * nx +
      (h * v[o + 1]! - displacementOf(1)) * ny +
      (h * v[o + 2]! - displacementOf(2)) * nz;
    // Between garments pushes are gentle; a body is where it is.
    const most = surface.isBody ? depth : MOST_PUSH_SPEED * h + Math.max(0, -inertial);
    const push = Math.min(depth, most, Math.max(0, RECOVERY_SPEED * h - normalDisplacement));
    const tx = mx - normalDisplacement * nx;
    const ty = my - normalDisplacement * ny;
    const tz = mz - normalDisplacement * nz;
    const slide = Math.sqrt(tx * tx + ty * ty + tz * tz);
    const kept = slide > 0 ? Math.min(1, (friction * push) / slide) : 0;
    x[o] = x[o]! + push * nx - kept * tx;
    x[o + 1] = x[o + 1]! + push * ny - kept * ty;
    x[o + 2] = x[o + 2]! + push * nz - kept * tz;
  }
}

const normal: [number, number, number] = [0, 0, 0];

/** Height of p above its foot along the smooth normal there, which stays in `normal`; the foot stays in `closestPoint`. */
function measureHeight(
  surface: SurfaceState,
  from: Float32Array,
  to: Float32Array,
  share: number,
  t: number,
  px: number,
  py: number,
  pz: number,
): number {
  findClosestPoint(surface, from, to, share, t, px, py, pz);
  const { triangles, normals } = surface;
  const wb = closestPoint.b;
  const wc = closestPoint.c;
  const wa = 1 - wb - wc;
  const corners = [4 * triangles[3 * t]!, 4 * triangles[3 * t + 1]!, 4 * triangles[3 * t + 2]!];
  const blend = (rows: Float32Array, k: number): number =>
    wa * rows[corners[0]! + k]! + wb * rows[corners[1]! + k]! + wc * rows[corners[2]! + k]!;
  for (let k = 0; k < 3; k++) normal[k] = blend(normals, k);
  const length = Math.sqrt(normal[0] ** 2 + normal[1] ** 2 + normal[2] ** 2) || 1;
  let height = 0;
  const p = [px, py, pz];
  for (let k = 0; k < 3; k++) {
    normal[k] = normal[k]! / length;
    const place = blend(from, k) + share * (blend(to, k) - blend(from, k));
    height += (p[k]! - place) * normal[k]!;
  }
  return height;
}

/** Closest point of a triangle, as it stands at `share` of the frame. */
function findClosestPoint(
  { triangles }: SurfaceState,
  from: Float32Array,
  to: Float32Array,
  share: number,
  t: number,
  px: number,
  py: number,
  pz: number,
): void {
  const a = 4 * triangles[3 * t]!;
  const b = 4 * triangles[3 * t + 1]!;
  const c = 4 * triangles[3 * t + 2]!;
  const ax = from[a]! + share * (to[a]! - from[a]!);
  const ay = from[a + 1]! + share * (to[a + 1]! - from[a + 1]!);
  const az = from[a + 2]! + share * (to[a + 2]! - from[a + 2]!);
  const ux = from[b]! + share * (to[b]! - from[b]!) - ax;
  const uy = from[b + 1]! + share * (to[b + 1]! - from[b + 1]!) - ay;
  const uz = from[b + 2]! + share * (to[b + 2]! - from[b + 2]!) - az;
  const wx = from[c]! + share * (to[c]! - from[c]!) - ax;
  const wy = from[c + 1]! + share * (to[c + 1]! - from[c + 1]!) - ay;
  const wz = from[c + 2]! + share * (to[c + 2]! - from[c + 2]!) - az;
  writeClosest(ux, uy, uz, wx, wy, wz, px - ax, py - ay, pz - az);
}
