import { dot } from '../../math/index.ts';
import type { FrameNumbers } from '../frame-numbers.ts';
import {
  MOST_PUSH_SPEED,
  RECOVERY_SPEED,
  SELF_CLOSING,
  SELF_FACING,
  SELF_NEAREST,
  SELF_OVER,
  SELF_SEARCH,
} from '../kernel/assembly/constants.ts';
import { Over } from '../kernel/assembly/layout.ts';
import type { SolverState } from '../solver-state.ts';
import { closestPoint, writeClosest } from './closest-point.ts';
import { buildPointHash, listCellsAround, squaredDistance } from './point-hash.ts';

/** From the foot to the place, and the outer unit normal of the triangle. Reused. */
const away: [number, number, number] = [0, 0, 0];
const normal: [number, number, number] = [0, 0, 0];

/**
 * Points and triangles of one garment that may come too near each other in this frame, where the mesh is coarser than the distance that
 * folds are to keep: for each point the nearest few. The side that the point is over now is the one that it is kept on; beside a triangle it has
 * none. Triangles that touch the point or a neighbour of it are held by the threads. What is nearer than the distance at rest is not told
 * apart; what is not much farther at rest, only once it has come closer.
 *
 * @param rest - [n, 4]. @returns Number of entries in `state.selfPairs`: the point; four times the triangle, and `Over`.
 */
export function findSelfFaces(
  state: SolverState,
  rest: Float32Array,
  pointCount: number,
  frame: FrameNumbers,
): number {
  const {
    positions: x,
    velocities,
    selfPairs,
    triangles,
    faceCentres,
    faceOrder,
    besideStart,
    besideList,
  } = state;
  const reach =
    SELF_SEARCH * frame.selfDistance +
    measureLargestWay(state, pointCount, frame.seconds) +
    writeCentres(state);
  buildPointHash(state, faceCentres, faceOrder.length, reach);
  let count = 0;
  for (let i = 0; i < pointCount; i++) {
    const found: { t: number; rank: number }[] = [];
    const beside = besideList.subarray(besideStart[i]!, besideStart[i + 1]!);
    for (const k of listNear(state, i, reach)) {
      const t = faceOrder[k]!;
      const way = measureRelativeSpeed(velocities, i, triangles, 3 * t) * frame.seconds;
      const most = SELF_SEARCH * frame.selfDistance + way + faceCentres[4 * k + 3]!;
      if (squaredDistance(x, i, faceCentres, k) >= most * most || beside.includes(t)) continue;
      if (!mayMeet(state, rest, i, t, way, frame.selfDistance)) continue;
      found.push({ t, rank: closestPoint.squared - SELF_FACING * dot(away, normal) ** 2 });
    }
    // Of those that meet where the point is nearest, the ones that face it first.
    found.sort((p, q) => p.rank - q.rank || p.t - q.t);
    for (const { t } of found.slice(0, SELF_NEAREST)) {
      measureFace(x, i, triangles, 3 * t);
      selfPairs[2 * count] = i;
      const height = dot(away, normal);
      const over = height < 0 ? Over.back : Over.front;
      selfPairs[2 * count + 1] =
        4 * t + (height * height > SELF_OVER * closestPoint.squared ? over : Over.none);
      count++;
    }
  }
  return count;
}

/** No two points come nearer to each other in the frame than by this, m. */
function measureLargestWay({ velocities: v }: SolverState, pointCount: number, seconds: number): number {
  let squared = 0;
  for (let k = 0; k < 3; k++) {
    let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let i = 0; i < pointCount; i++) {
      least = Math.min(least, v[4 * i + k]!);
      most = Math.max(most, v[4 * i + k]!);
    }
    squared += (most - least) ** 2;
  }
  return Math.sqrt(squared) * seconds;
}

/** Centres of the triangles as they stand, and how far each reaches (w). @returns How far from its centre one may reach, m. */
function writeCentres({ positions: x, triangles, faceCentres, faceOrder }: SolverState): number {
  let farthest = 0;
  faceOrder.forEach((t, k) => {
    const corners = triangles.subarray(3 * t, 3 * t + 3);
    for (let c = 0; c < 3; c++) {
      let sum = 0;
      for (const corner of corners) sum += x[4 * corner + c]!;
      faceCentres[4 * k + c] = sum / 3;
    }
    let squared = 0;
    for (const corner of corners) squared = Math.max(squared, squaredDistance(faceCentres, k, x, corner));
    faceCentres[4 * k + 3] = Math.sqrt(squared);
    farthest = Math.max(farthest, faceCentres[4 * k + 3]!);
  });
  return farthest;
}

/** Centres within reach of a point. */
function listNear(
  { positions: x, faceCentres, hashStart, hashList }: SolverState,
  i: number,
  reach: number,
): number[] {
  const found: number[] = [];
  for (const cell of listCellsAround(x, i, reach)) {
    for (let k = hashStart[cell]!; k < hashStart[cell + 1]!; k++) {
      const j = hashList[k]!;
      if (squaredDistance(x, i, faceCentres, j) < reach * reach) found.push(j);
    }
  }
  return found;
}

/** Whether a point is to be kept off a triangle in this frame, if they come together by a way (m). Leaves the way between them in `closestPoint`. */
function mayMeet(
  { positions: x, inverseMasses, triangles }: SolverState,
  rest: Float32Array,
  i: number,
  t: number,
  way: number,
  selfDistance: number,
): boolean {
  const corners = triangles.subarray(3 * t, 3 * t + 3);
  if (corners.reduce((sum, corner) => sum + inverseMasses[corner]!, inverseMasses[i]!) === 0) return false;
  const most = SELF_SEARCH * selfDistance;
  measureFace(x, i, triangles, 3 * t);
  if (closestPoint.squared >= (most + way) ** 2) return false;
  measureFace(rest, i, triangles, 3 * t);
  const apart = Math.sqrt(closestPoint.squared) - selfDistance;
  if (apart < 0) return false;
  const limit = Math.min(most, selfDistance + SELF_CLOSING * apart) + way;
  measureFace(x, i, triangles, 3 * t);
  return closestPoint.squared < limit * limit;
}

/** Of a point against the mean of a triangle, m/s. */
function measureRelativeSpeed(v: Float32Array, i: number, triangles: Uint32Array, t: number): number {
  let squared = 0;
  for (let k = 0; k < 3; k++) {
    const mean =
      (v[4 * triangles[t]! + k]! + v[4 * triangles[t + 1]! + k]! + v[4 * triangles[t + 2]! + k]!) / 3;
    squared += (v[4 * i + k]! - mean) ** 2;
  }
  return Math.sqrt(squared);
}

/** Writes `away`, `normal` and `closestPoint` of a point and a triangle (first of its corners in the list) as they stand. */
function measureFace(x: Float32Array, i: number, triangles: Uint32Array, t: number): void {
  const a = 4 * triangles[t]!;
  const b = 4 * triangles[t + 1]!;
  const c = 4 * triangles[t + 2]!;
  const ux = x[b]! - x[a]!;
  const uy = x[b + 1]! - x[a + 1]!;
  const uz = x[b + 2]! - x[a + 2]!;
  const wx = x[c]! - x[a]!;
  const wy = x[c + 1]! - x[a + 1]!;
  const wz = x[c + 2]! - x[a + 2]!;
  const qx = x[4 * i]! - x[a]!;
  const qy = x[4 * i + 1]! - x[a + 1]!;
  const qz = x[4 * i + 2]! - x[a + 2]!;
  writeClosest(ux, uy, uz, wx, wy, wz, qx, qy, qz);
  away[0] = qx - closestPoint.b * ux - closestPoint.c * wx;
  away[1] = qy - closestPoint.b * uy - closestPoint.c * wy;
  away[2] = qz - closestPoint.b * uz - closestPoint.c * wz;
  normal[0] = uy * wz - uz * wy;
  normal[1] = uz * wx - ux * wz;
  normal[2] = ux * wy - uy * wx;
  const length = Math.sqrt(dot(normal, normal)) || 1;
  for (let k = 0; k < 3; k++) normal[k] = normal[k]! / length;
}

/** Parts points and triangles that came too near or through each other, and takes from their sliding what friction allows. */
export function solveSelfFaces(state: SolverState, frame: FrameNumbers, count: number): void {
  const { positions: x, velocities: v, predicted, inverseMasses, selfPairs, triangles } = state;
  const { selfDistance, friction, h } = frame;
  for (let entry = 0; entry < count; entry++) {
    const i = selfPairs[2 * entry]!;
    const face = selfPairs[2 * entry + 1]!;
    const t = 3 * (face >> 2);
    measureFace(x, i, triangles, t);
    const depth = measureSelfDepth(face & 3, selfDistance);
    if (depth <= 0) continue;
    const corners = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
    const shares = [1 - closestPoint.b - closestPoint.c, closestPoint.b, closestPoint.c];
    let answer = inverseMasses[i]!;
    corners.forEach((corner, j) => {
      answer += inverseMasses[corner]! * shares[j]! * shares[j]!;
    });
    if (answer === 0) continue;
    // How the point moves against its foot: as it did before this substep, and in it.
    const against = (of: (row: number, k: number) => number): [number, number, number] =>
      [0, 1, 2].map((k) =>
        corners.reduce((sum, corner, j) => sum - shares[j]! * of(corner, k), of(i, k)),
      ) as [number, number, number];
    const before = against((row, k) => h * v[4 * row + k]!);
    const m = against((row, k) => x[4 * row + k]! - (predicted[4 * row + k]! - h * v[4 * row + k]!));
    const along = dot(m, direction);
    const most = MOST_PUSH_SPEED * h + Math.max(0, -dot(before, direction));
    const parted = Math.min(depth, most, Math.max(0, RECOVERY_SPEED * h - along));
    const slide = Math.sqrt(Math.max(0, dot(m, m) - along * along));
    const kept = slide > 0 ? Math.min(1, (friction * parted) / slide) : 0;
    for (let k = 0; k < 3; k++) {
      const push = (parted * direction[k]! - kept * (m[k]! - along * direction[k]!)) / answer;
      x[4 * i + k] = x[4 * i + k]! + inverseMasses[i]! * push;
      corners.forEach((corner, j) => {
        x[4 * corner + k] = x[4 * corner + k]! - inverseMasses[corner]! * shares[j]! * push;
      });
    }
  }
}

/** Where a point is pushed from its triangle. Reused. */
const direction: [number, number, number] = [0, 0, 0];

/** How far a point is to be pushed along `direction`, from what `measureFace` wrote: 0 or less, not at all. */
function measureSelfDepth(over: number, selfDistance: number): number {
  const { squared } = closestPoint;
  const side = over === Over.back ? -1 : 1;
  const height = side * dot(away, normal);
  if (height > 0 || over === Over.none) {
    if (squared >= selfDistance * selfDistance) return 0;
    const length = Math.sqrt(squared);
    if (length === 0) return 0;
    for (let k = 0; k < 3; k++) direction[k] = away[k]! / length;
    return selfDistance - length;
  }
  // Behind the triangle, and not far beside it: it went through.
  const beside = Math.sqrt(Math.max(0, squared - height * height));
  for (let k = 0; k < 3; k++) direction[k] = side * normal[k]!;
  return (selfDistance - height) * Math.max(0, 1 - beside / (0.5 * selfDistance));
}
