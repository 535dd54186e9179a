import type { MutableVector3 } from '../../math/index.ts';
import type { FrameNumbers } from '../frame-numbers.ts';
import {
  MEETING_SLACK,
  MEETING_WAYS,
  MOST_PUSH_SPEED,
  MOST_STRETCHED,
  RECOVERY_SPEED,
  RIDGE_RISE,
  SURFACE_DEPTH,
} from '../kernel/assembly/constants.ts';
import { NONE, type SolverState, type SurfaceState } from '../solver-state.ts';
import { closestPoint, writeClosest } from './closest-point.ts';

/**
 * Places of a surface that stand out between the points of the cloth over it: where it is bent, its points and the middles between them.
 * Each with the triangle of the cloth that lies over it, which the points of the cloth alone would let it through.
 *
 * @returns how many; in `surface.ridgeContacts` two points of the surface, whose middle it is (twice the same: that point), and the triangle.
 */
export function findRidgeContacts(
  state: SolverState,
  surface: SurfaceState,
  pointCount: number,
  frame: FrameNumbers,
): number {
  noteNearest(state, surface, pointCount);
  noteRises(surface);
  const { rises, over, triangles, aroundStart, aroundList, ridgeContacts } = surface;
  let count = 0;
  const add = (p: number, q: number): void => {
    const triangle = findTriangleOver(state, surface, frame, p, q);
    if (triangle === NONE) return;
    ridgeContacts.set([p, q, triangle], 3 * count);
    count++;
  };
  for (let p = 0; p < surface.pointCount; p++) {
    if (over[p] === 0 || rises[p] === 0) continue;
    add(p, p);
    for (let k = aroundStart[p]!; k < aroundStart[p + 1]!; k++) {
      const t = 3 * aroundList[k]!;
      const corner = triangles.subarray(t, t + 3).indexOf(p);
      const q = triangles[t + ((corner + 1) % 3)]!;
      // Seen from both ends, it is taken from the lower.
      if (rises[q]! > 0 && (p < q || over[q] === 0)) add(p, q);
    }
  }
  return count;
}

/** Of each point of the surface the nearest of the cloth's points that it is nearest to. */
function noteNearest({ positions: x }: SolverState, surface: SurfaceState, pointCount: number): void {
  const { from, nearPoints, over } = surface;
  over.fill(0);
  for (let i = 0; i < pointCount; i++) {
    const p = nearPoints[i]! - 1;
    if (p < 0) continue;
    const known = over[p]! - 1;
    if (known < 0 || measureSquared(x, i, from, p) < measureSquared(x, known, from, p)) over[p] = i + 1;
  }
}

function measureSquared(x: Float32Array, i: number, y: Float32Array, j: number): number {
  return (
    (x[4 * i]! - y[4 * j]!) ** 2 + (x[4 * i + 1]! - y[4 * j + 1]!) ** 2 + (x[4 * i + 2]! - y[4 * j + 2]!) ** 2
  );
}

/** How far each point stands out of the triangles around it, m; 0 where that is little. */
function noteRises({
  to,
  normals,
  triangles,
  aroundStart,
  aroundList,
  pointCount,
  spacing,
  rises,
}: SurfaceState): void {
  for (let p = 0; p < pointCount; p++) {
    let sum = 0;
    const first = aroundStart[p]!;
    const end = aroundStart[p + 1]!;
    for (let k = first; k < end; k++) {
      const t = 3 * aroundList[k]!;
      for (let c = t; c < t + 3; c++) {
        for (let axis = 0; axis < 3; axis++)
          sum += (to[4 * p + axis]! - to[4 * triangles[c]! + axis]!) * normals[4 * p + axis]!;
      }
    }
    // Each triangle has two corners besides.
    const rise = end > first ? sum / (2 * (end - first)) : 0;
    rises[p] = rise > RIDGE_RISE * spacing ? rise : 0;
  }
}

/** The triangle of the cloth that is nearest to a place of the surface, when it can come to touch it in this frame or lies beneath. */
function findTriangleOver(
  state: SolverState,
  surface: SurfaceState,
  frame: FrameNumbers,
  p: number,
  q: number,
): number {
  const { positions: x, velocities: v, triangles, inverseMasses, besideStart, besideList } = state;
  const i = surface.over[p]! - 1;
  stand(surface, p, q, 0, 1);
  const way = Math.sqrt(displacement[0] ** 2 + displacement[1] ** 2 + displacement[2] ** 2);
  const speed = Math.sqrt(v[4 * i]! ** 2 + v[4 * i + 1]! ** 2 + v[4 * i + 2]! ** 2);
  const above = surface.distance + MEETING_WAYS * (way + frame.seconds * speed) + MEETING_SLACK;
  const limit = Math.max(above, SURFACE_DEPTH);
  // Triangles beside that point have a corner no farther off than they are large.
  const most = limit + MOST_STRETCHED * frame.largestFace;
  if (
    (x[4 * i]! - place[0]) ** 2 + (x[4 * i + 1]! - place[1]) ** 2 + (x[4 * i + 2]! - place[2]) ** 2 >
    most * most
  )
    return NONE;
  let least = limit * limit;
  let found = NONE;
  for (let k = besideStart[i]!; k < besideStart[i + 1]!; k++) {
    const t = besideList[k]!;
    const [a, b, c] = [triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!];
    if (inverseMasses[a]! + inverseMasses[b]! + inverseMasses[c]! === 0) continue;
    findFoot(x, a, b, c, place);
    if (closestPoint.squared >= least) continue;
    least = closestPoint.squared;
    found = t;
  }
  if (found === NONE || least < above * above) return found;
  return measureRise(x, triangles, found) > 0 ? NONE : found;
}

/** How far the foot on a triangle, of the place that stands, is above that. */
function measureRise(x: Float32Array, triangles: Uint32Array, t: number): number {
  const [a, b, c] = [triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!];
  findFoot(x, a, b, c, place);
  const share = 1 - closestPoint.b - closestPoint.c;
  let rise = 0;
  for (let k = 0; k < 3; k++) {
    const foot = share * x[4 * a + k]! + closestPoint.b * x[4 * b + k]! + closestPoint.c * x[4 * c + k]!;
    rise += (foot - place[k]!) * normal[k]!;
  }
  return rise;
}

function findFoot(x: Float32Array, a: number, b: number, c: number, place: MutableVector3): void {
  const [ax, ay, az] = [x[4 * a]!, x[4 * a + 1]!, x[4 * a + 2]!];
  writeClosest(
    x[4 * b]! - ax,
    x[4 * b + 1]! - ay,
    x[4 * b + 2]! - az,
    x[4 * c]! - ax,
    x[4 * c + 1]! - ay,
    x[4 * c + 2]! - az,
    place[0] - ax,
    place[1] - ay,
    place[2] - az,
  );
}

/** Keeps triangles of the cloth the margin outside of the places that stand out, with friction; the push goes to the corners by their shares. */
export function solveRidges(
  state: SolverState,
  surface: SurfaceState,
  frame: FrameNumbers,
  share: number,
  count: number,
): void {
  const { ridgeContacts } = surface;
  for (let i = 0; i < count; i++)
    pushTriangle(
      state,
      surface,
      frame,
      share,
      ridgeContacts[3 * i]!,
      ridgeContacts[3 * i + 1]!,
      ridgeContacts[3 * i + 2]!,
    );
}

const place: MutableVector3 = [0, 0, 0];
const normal: MutableVector3 = [0, 0, 0];
const displacement: MutableVector3 = [0, 0, 0];

function pushTriangle(
  state: SolverState,
  surface: SurfaceState,
  frame: FrameNumbers,
  share: number,
  p: number,
  q: number,
  t: number,
): void {
  const { positions: x, velocities: v, predicted, inverseMasses, triangles } = state;
  const { friction, h } = frame;
  const { distance } = surface;
  const corners = [triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!] as const;
  stand(surface, p, q, share, frame.substeps);
  findFoot(x, ...corners, place);
  const shares = [1 - closestPoint.b - closestPoint.c, closestPoint.b, closestPoint.c] as const;
  const blend = (rows: Float32Array, k: number): number =>
    shares[0] * rows[4 * corners[0] + k]! +
    shares[1] * rows[4 * corners[1] + k]! +
    shares[2] * rows[4 * corners[2] + k]!;
  let [height, answer, normalDisplacement, inertial] = [0, 0, 0, 0];
  const motion: MutableVector3 = [0, 0, 0];
  corners.forEach((corner, j) => {
    answer += inverseMasses[corner]! * shares[j]! ** 2;
  });
  for (let k = 0; k < 3; k++) {
    const ballistic = h * blend(v, k);
    motion[k] = blend(x, k) - blend(predicted, k) + ballistic - displacement[k]!;
    height += (blend(x, k) - place[k]!) * normal[k]!;
    normalDisplacement += motion[k]! * normal[k]!;
    inertial += (ballistic - displacement[k]!) * normal[k]!;
  }
  const depth = distance - height;
  // Beside an open border of the cloth the foot is on the border: it does not reach there.
  const beside = (distance + 0.5 * surface.spacing) ** 2;
  if (depth <= 0 || answer === 0 || height < -SURFACE_DEPTH) return;
  if (closestPoint.squared - height * height > beside) return;
  const most = MOST_PUSH_SPEED * h + Math.max(0, -inertial);
  const push = Math.min(depth, most, Math.max(0, RECOVERY_SPEED * h - normalDisplacement));
  let squared = 0;
  for (let k = 0; k < 3; k++) {
    motion[k] = motion[k]! - normalDisplacement * normal[k]!;
    squared += motion[k]! ** 2;
  }
  const slide = Math.sqrt(squared);
  const kept = slide > 0 ? Math.min(1, (friction * push) / slide) : 0;
  corners.forEach((corner, j) => {
    const part = (inverseMasses[corner]! * shares[j]!) / answer;
    for (let k = 0; k < 3; k++)
      x[4 * corner + k] = x[4 * corner + k]! + part * (push * normal[k]! - kept * motion[k]!);
  });
}

/** Where a place of the surface stands at a share of the frame, its normal, and its way in a substep. */
function stand(
  { from, to, normals }: SurfaceState,
  p: number,
  q: number,
  share: number,
  substeps: number,
): void {
  let squared = 0;
  for (let k = 0; k < 3; k++) {
    const start = 0.5 * (from[4 * p + k]! + from[4 * q + k]!);
    const way = 0.5 * (to[4 * p + k]! + to[4 * q + k]!) - start;
    place[k] = start + share * way;
    displacement[k] = way / substeps;
    normal[k] = normals[4 * p + k]! + normals[4 * q + k]!;
    squared += normal[k]! ** 2;
  }
  const scale = squared > 0 ? 1 / Math.sqrt(squared) : 0;
  for (let k = 0; k < 3; k++) normal[k] = normal[k]! * scale;
}
