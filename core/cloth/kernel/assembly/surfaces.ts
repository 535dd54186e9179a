import { closestB, closestC, closestSquared, footDisplacement, writeClosest } from './closest-point';
import { MEETING_SLACK, MEETING_WAYS, MOST_PUSH_SPEED, RECOVERY_SPEED, SURFACE_DEPTH } from './constants';
import { HEADER, Slot, Surface, Work } from './layout';
import { listNear, prepareSearch } from './search';
import { addWork, at, count, dot, number } from './simd';

const NONE: u32 = 0xffffffff;
const MOST_SEARCH: f32 = 0.3;
const SEARCH_EDGES: f32 = 1.2;
const CLEARANCE_SLACK: f32 = 0.002;
const SEARCH_SPACINGS: f32 = 0.5;
const SEARCH_EVERY = 8;

/** Vertices of a surface that were looked at for the nearest, since the search began. */
let looks = 0;
/** And vertices that had one near them. */
let finds = 0;
/** Smooth normal at the foot that `measureHeight` found. */
let normal: v128 = f32x4.splat(0);

/** A word of the record of a surface. */
@inline
export function field(surface: usize, slot: i32): usize {
  return <usize>load<u32>(surface + (<usize>slot << 2));
}

/** Counts work at a surface. @param kind - As it is called for layers; that of body meshes follows in the same order. */
@inline
export function addSurfaceWork(surface: usize, kind: i32, amount: i32): void {
  addWork(load<i32>(surface + (Surface.isBody << 2)) ? kind + Work.meshTriangles - Work.layerTriangles : kind, amount);
}

/** How far off a surface cloth is kept, m. */
@inline
export function distanceOf(surface: usize): f32 {
  return load<f32>(surface + (Surface.distance << 2));
}

/**
 * The triangle of a surface that each free point may touch in this frame, see `constraints/surfaces.ts`.
 * @param isFastOnly - Of the blocks that look for it in every substep alone.
 */
export function findNearestTriangles(surface: usize, isFastOnly: bool): void {
  const pointCount = count(Slot.pointCount);
  const x = at(Slot.positions);
  const v = at(Slot.velocities);
  const from = field(surface, Surface.from);
  const spacing = load<f32>(surface + (Surface.spacing << 2));
  const beside: f32 = SEARCH_EDGES * spacing;
  const margin: f32 = distanceOf(surface);
  updateCentres(surface);
  const fastest = measureFastest(surface);
  const seconds = number(Slot.seconds);
  const blocks = prepareSearch(from, <i32>field(surface, Surface.pointCount));
  let searched = 0;
  let boxes = 0;
  looks = 0;
  finds = 0;
  const lasts = field(surface, Surface.nearPoints);
  const flags = field(surface, Surface.fastBlocks);
  for (let first = 0; first < pointCount; first += 16) {
    if (isFastOnly && !load<u32>(flags + (<usize>(first >> 4) << 2))) continue;
    const last = min<i32>(pointCount, first + 16);
    const isDue = (((first >> 4) + count(Slot.index)) & (SEARCH_EVERY - 1)) == 0;
    let low = v128.load(x + (<usize>first << 4));
    let high = low;
    let most: f32 = 0;
    let isSearched = isDue;
    for (let i = first; i < last; i++) {
      const place = v128.load(x + (<usize>i << 4));
      const velocity = v128.load(v + (<usize>i << 4));
      low = f32x4.pmin(low, place);
      high = f32x4.pmax(high, place);
      most = max<f32>(most, dot(velocity, velocity));
      if (load<u32>(lasts + (<usize>i << 2)) == 0) isSearched = true;
    }
    const displacement: f32 = seconds * sqrt<f32>(most) + fastest;
    const limit: f32 = max<f32>(margin + <f32>MEETING_WAYS * displacement + <f32>MEETING_SLACK, <f32>SURFACE_DEPTH);
    if (isSearched) boxes += blocks;
    searched += last - first;
    const near = isSearched ? listNear(low, high, min<f32>(MOST_SEARCH, limit + beside), blocks) : 0;
    for (let i = first; i < last; i++) findTriangleOf(surface, i, isDue, near, beside, fastest);
  }
  addSurfaceWork(surface, Work.layerTriangles, load<i32>(surface + (Surface.triangleCount << 2)));
  addSurfaceWork(surface, Work.layerVertices, searched);
  addSurfaceWork(surface, Work.layerBoxes, boxes);
  addSurfaceWork(surface, Work.layerLooks, looks);
  addSurfaceWork(surface, Work.layerFinds, finds);
}

/**
 * `findNearestTriangles` for one substep, of the blocks that move fast against the surface: with the surface as it moves in it in the place of the frame's, and points where they were at its
 * start.
 */
export function findInSubstep(surface: usize, substep: i32): void {
  const from = field(surface, Surface.from);
  const to = field(surface, Surface.to);
  const subFrom = field(surface, Surface.subFrom);
  const subTo = field(surface, Surface.subTo);
  const substeps = count(Slot.substeps);
  const first = f32x4.splat(<f32>substep / <f32>substeps);
  const last = f32x4.splat(<f32>(substep + 1) / <f32>substeps);
  const bytes = field(surface, Surface.pointCount) << 4;
  for (let o: usize = 0; o < bytes; o += 16) {
    const a = v128.load(from + o);
    const d = f32x4.sub(v128.load(to + o), a);
    v128.store(subFrom + o, f32x4.add(a, f32x4.mul(first, d)));
    v128.store(subTo + o, f32x4.add(a, f32x4.mul(last, d)));
  }
  const rows = <usize>count(Slot.pointCount) << 4;
  const positions = at(Slot.positions);
  const predicted = at(Slot.predicted);
  const v = at(Slot.velocities);
  const starts = at(Slot.substepStarts);
  const h = f32x4.splat(number(Slot.h));
  for (let o: usize = 0; o < rows; o += 16)
    v128.store(starts + o, f32x4.sub(v128.load(predicted + o), f32x4.mul(h, v128.load(v + o))));
  const seconds = number(Slot.seconds);
  const index = count(Slot.index);
  store<u32>(HEADER + (Slot.positions << 2), <u32>starts);
  store<u32>(surface + (Surface.from << 2), <u32>subFrom);
  store<u32>(surface + (Surface.to << 2), <u32>subTo);
  store<f32>(HEADER + (Slot.seconds << 2), number(Slot.h));
  store<i32>(HEADER + (Slot.index << 2), index * substeps + substep);
  findNearestTriangles(surface, true);
  store<u32>(HEADER + (Slot.positions << 2), <u32>positions);
  store<u32>(surface + (Surface.from << 2), <u32>from);
  store<u32>(surface + (Surface.to << 2), <u32>to);
  store<f32>(HEADER + (Slot.seconds << 2), seconds);
  store<i32>(HEADER + (Slot.index << 2), index);
  // They would count from the start of the frame.
  const flags = field(surface, Surface.fastBlocks);
  const clearances = field(surface, Surface.clearances);
  for (let i: usize = 0; i < <usize>count(Slot.pointCount); i++)
    if (load<u32>(flags + ((i >> 4) << 2))) store<f32>(clearances + (i << 2), 0);
}

/** Centres of the triangles as they stand at the start of the frame. */
function updateCentres(surface: usize): void {
  const from = field(surface, Surface.from);
  let centre = field(surface, Surface.centres);
  let corners = field(surface, Surface.triangles);
  const third = f32x4.splat(1 / 3.0);
  const triangleCount = load<i32>(surface + (Surface.triangleCount << 2));
  for (let t = 0; t < triangleCount; t++, corners += 12, centre += 16) {
    const a = v128.load(from + <usize>load<u32>(corners, 0));
    const b = v128.load(from + <usize>load<u32>(corners, 4));
    const c = v128.load(from + <usize>load<u32>(corners, 8));
    v128.store(centre, f32x4.mul(third, f32x4.add(f32x4.add(a, b), c)));
  }
}

function findTriangleOf(surface: usize, i: i32, isDue: bool, near: i32, beside: f32, fastest: f32): void {
  const nearest = field(surface, Surface.nearest) + (<usize>i << 2);
  store<u32>(nearest, NONE);
  if (load<f32>(at(Slot.inverseMasses) + (<usize>i << 2)) == 0) return;
  const place = v128.load(at(Slot.positions) + (<usize>i << 4));
  const velocity = v128.load(at(Slot.velocities) + (<usize>i << 4));
  const displacement: f32 = number(Slot.seconds) * sqrt<f32>(dot(velocity, velocity)) + fastest;
  const limit: f32 = distanceOf(surface) + <f32>MEETING_WAYS * displacement + <f32>MEETING_SLACK;
  const reach: f32 = min<f32>(MOST_SEARCH, max<f32>(limit, <f32>SURFACE_DEPTH) + beside);
  const last = field(surface, Surface.nearPoints) + (<usize>i << 2);
  const from = field(surface, Surface.from);
  let point = <i32>load<u32>(last) - 1;
  if (isDue || point < 0) {
    point = findPointNear(place, near, boundByLast(surface, point + 1, place, reach * reach));
    store<u32>(last, point + 1);
    if (point < 0) return;
  }
  const offset = f32x4.sub(place, v128.load(from + (<usize>point << 4)));
  if (dot(offset, offset) > reach * reach) return;
  const normalThere = v128.load(field(surface, Surface.normals) + (<usize>point << 4));
  // Far above the nearest point it is far above the triangles around that, too.
  if (dot(offset, normalThere) > limit + SEARCH_SPACINGS * load<f32>(surface + (Surface.spacing << 2))) return;
  finds++;
  const triangle = findTriangleAround(surface, point, place);
  if (triangle == NONE) return;
  store<u32>(last, findNearestCorner(surface, triangle, place) + 1);
  const height = measureHeight(surface, from, from, 0, triangle, place);
  if (height < -<f32>SURFACE_DEPTH || height > limit) return;
  store<u32>(nearest, triangle);
  const clearance: f32 = height - distanceOf(surface) - fastest - CLEARANCE_SLACK;
  store<f32>(field(surface, Surface.clearances) + (<usize>i << 2), max<f32>(0, clearance));
}

/** The corner of a triangle that is nearest to a place. */
function findNearestCorner(surface: usize, triangle: u32, place: v128): u32 {
  const from = field(surface, Surface.from);
  const corners = field(surface, Surface.triangles) + <usize>triangle * 12;
  let best: u32 = 0;
  let least: f32 = f32.MAX_VALUE;
  for (let k: usize = 0; k < 12; k += 4) {
    const row = load<u32>(corners + k);
    const d = f32x4.sub(v128.load(from + <usize>row), place);
    const squared: f32 = dot(d, d);
    if (squared >= least) continue;
    least = squared;
    best = row >> 4;
  }
  return best;
}

/** The nearest of the two triangles around a point whose centres are nearest to a place. */
function findTriangleAround(surface: usize, point: i32, place: v128): u32 {
  const from = field(surface, Surface.from);
  const centres = field(surface, Surface.centres);
  const aroundStart = field(surface, Surface.aroundStart) + (<usize>point << 2);
  const aroundList = field(surface, Surface.aroundList);
  let first = NONE;
  let second = NONE;
  let least: f32 = f32.MAX_VALUE;
  let next: f32 = f32.MAX_VALUE;
  const last = load<u32>(aroundStart, 4);
  for (let k = load<u32>(aroundStart); k < last; k++) {
    const t = load<u32>(aroundList + (<usize>k << 2));
    const d = f32x4.sub(v128.load(centres + (<usize>t << 4)), place);
    const squared: f32 = dot(d, d);
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
  if (second == NONE) return first;
  findClosestPoint(surface, from, from, 0, first, place);
  const closest = closestSquared;
  findClosestPoint(surface, from, from, 0, second, place);
  return closestSquared < closest ? second : first;
}

/**
 * Bound on the squared distance to the nearest point: how far the one of the last frame is now.
 * @param last - One more than its number; 0: there was none.
 */
function boundByLast(surface: usize, last: i32, place: v128, bound: f32): f32 {
  if (last == 0) return bound;
  const d = f32x4.sub(v128.load(field(surface, Surface.from) + (<usize>(last - 1) << 4)), place);
  // A little more, so that the search finds that very point again.
  return min<f32>(bound, <f32>1.0001 * dot(d, d) + f32.MIN_NORMAL_VALUE);
}

/** The point of the listed blocks that is nearest to a place within a squared distance, the lowest of several; -1: none. */
function findPointNear(place: v128, near: i32, bound: f32): i32 {
  const px = v128.shuffle<f32>(place, place, 0, 0, 0, 0);
  const py = v128.shuffle<f32>(place, place, 1, 1, 1, 1);
  const pz = v128.shuffle<f32>(place, place, 2, 2, 2, 2);
  const zero = f32x4.splat(0);
  const list = at(Slot.searchList);
  const boxes = at(Slot.searchBoxes);
  let best = f32x4.splat(bound);
  let points = i32x4.splat(-1);
  looks += near;
  for (let k = 0; k < near; k++) {
    const block = load<i32>(list + (<usize>k << 2));
    const box = boxes + (<usize>block << 5);
    const beside = f32x4.pmax(
      f32x4.pmax(f32x4.sub(v128.load(box, 0), place), f32x4.sub(place, v128.load(box, 16))),
      zero,
    );
    if (dot(beside, beside) >= bound) continue;
    looks += 16;
    const first = block << 4;
    let quad = at(Slot.searchTurned) + <usize>first * 12;
    for (let j = first; j < first + 16; j += 4, quad += 48) {
      const dx = f32x4.sub(v128.load(quad, 0), px);
      const dy = f32x4.sub(v128.load(quad, 16), py);
      const dz = f32x4.sub(v128.load(quad, 32), pz);
      const squared = f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz));
      const isNearer = f32x4.lt(squared, best);
      best = f32x4.pmin(best, squared);
      points = v128.bitselect(i32x4.splat(j), points, isNearer);
    }
  }
  let point = -1;
  let least = bound;
  for (let lane = 0; lane < 4; lane++) {
    const squared = laneOf(best, lane);
    const first = <i32>reinterpret<u32>(laneOf(points, lane));
    if (first < 0) continue;
    if (squared < least || (squared == least && first + lane < point)) {
      least = squared;
      point = first + lane;
    }
  }
  return point;
}

@inline
function laneOf(v: v128, lane: i32): f32 {
  return lane == 0
    ? f32x4.extract_lane(v, 0)
    : lane == 1
      ? f32x4.extract_lane(v, 1)
      : lane == 2
        ? f32x4.extract_lane(v, 2)
        : f32x4.extract_lane(v, 3);
}

function measureFastest(surface: usize): f32 {
  const from = field(surface, Surface.from);
  const to = field(surface, Surface.to);
  const bytes = field(surface, Surface.pointCount) << 4;
  let most: f32 = 0;
  for (let o: usize = 0; o < bytes; o += 16) {
    const d = f32x4.sub(v128.load(to + o), v128.load(from + o));
    most = max<f32>(most, dot(d, d));
  }
  return sqrt<f32>(most);
}

export function solveSurface(surface: usize, share: f32): void {
  const pointCount = count(Slot.pointCount);
  const x = at(Slot.positions);
  const v = at(Slot.velocities);
  const predicted = at(Slot.predicted);
  const masses = at(Slot.inverseMasses);
  const from = field(surface, Surface.from);
  const to = field(surface, Surface.to);
  const nearest = field(surface, Surface.nearest);
  const clearances = field(surface, Surface.clearances);
  const started = at(Slot.goodPositions);
  const triangles = field(surface, Surface.triangles);
  const spacing = load<f32>(surface + (Surface.spacing << 2));
  const margin = distanceOf(surface);
  const friction = number(Slot.friction);
  const h = number(Slot.h);
  const perSubstep = f32x4.splat(<f32>1.0 / <f32>count(Slot.substeps));
  const beside: f32 = (margin + 0.5 * spacing) * (margin + 0.5 * spacing);
  const isBody = load<i32>(surface + (Surface.isBody << 2)) != 0;
  let met = 0;
  for (let i = 0; i < pointCount; i++) {
    const t = load<u32>(nearest + (<usize>i << 2));
    if (t == NONE || load<f32>(masses + (<usize>i << 2)) == 0) continue;
    const o = <usize>i << 4;
    const xi = v128.load(x + o);
    const moved = f32x4.sub(xi, v128.load(started + o));
    const clearance = load<f32>(clearances + (<usize>i << 2));
    if (dot(moved, moved) < clearance * clearance) continue;
    met++;
    const height = measureHeight(surface, from, to, share, t, xi);
    const depth: f32 = margin - height;
    if (depth <= 0 || closestSquared - height * height > beside) continue;
    const corners = triangles + <usize>t * 12;
    const a = <usize>load<u32>(corners, 0);
    const b = <usize>load<u32>(corners, 4);
    const c = <usize>load<u32>(corners, 8);
    const displacement = f32x4.mul(
      perSubstep,
      f32x4.sub(blend(to + a, to + b, to + c), blend(from + a, from + b, from + c)),
    );
    const ballistic = f32x4.mul(f32x4.splat(h), v128.load(v + o));
    const before = f32x4.sub(v128.load(predicted + o), ballistic);
    const m = f32x4.sub(f32x4.sub(xi, before), displacement);
    const n = normal;
    const normalDisplacement: f32 = dot(m, n);
    const inertial: f32 = dot(f32x4.sub(ballistic, displacement), n);
    const most: f32 = isBody ? depth : <f32>MOST_PUSH_SPEED * h + max<f32>(0, -inertial);
    const push: f32 = min<f32>(min<f32>(depth, most), max<f32>(0, <f32>RECOVERY_SPEED * h - normalDisplacement));
    const s = f32x4.sub(m, f32x4.mul(n, f32x4.splat(normalDisplacement)));
    const slide: f32 = sqrt<f32>(dot(s, s));
    const kept: f32 = slide > 0 ? min<f32>(1, (friction * push) / slide) : 0;
    v128.store(x + o, f32x4.sub(f32x4.add(xi, f32x4.mul(n, f32x4.splat(push))), f32x4.mul(s, f32x4.splat(kept))));
  }
  addSurfaceWork(surface, Work.layerPairs, met);
}

/** Barycentric blend of three rows by the last foot. */
@inline
function blend(a: usize, b: usize, c: usize): v128 {
  return f32x4.add(
    f32x4.add(
      f32x4.mul(f32x4.splat(<f32>1.0 - closestB - closestC), v128.load(a)),
      f32x4.mul(f32x4.splat(closestB), v128.load(b)),
    ),
    f32x4.mul(f32x4.splat(closestC), v128.load(c)),
  );
}

/** Height of a place above its foot on a triangle, along the smooth normal there, which stays in `normal`. */
function measureHeight(surface: usize, from: usize, to: usize, share: f32, t: u32, place: v128): f32 {
  findClosestPoint(surface, from, to, share, t, place);
  const corners = field(surface, Surface.triangles) + <usize>t * 12;
  const normals = field(surface, Surface.normals);
  const n = blend(
    normals + <usize>load<u32>(corners, 0),
    normals + <usize>load<u32>(corners, 4),
    normals + <usize>load<u32>(corners, 8),
  );
  const length: f32 = sqrt<f32>(dot(n, n));
  normal = length > 0 ? f32x4.div(n, f32x4.splat(length)) : n;
  return dot(footDisplacement, normal);
}

@inline
function stand(from: usize, to: usize, share: v128): v128 {
  const start = v128.load(from);
  return f32x4.add(start, f32x4.mul(share, f32x4.sub(v128.load(to), start)));
}

function findClosestPoint(surface: usize, from: usize, to: usize, share: f32, t: u32, place: v128): void {
  const corners = field(surface, Surface.triangles) + <usize>t * 12;
  const oa = <usize>load<u32>(corners, 0);
  const ob = <usize>load<u32>(corners, 4);
  const oc = <usize>load<u32>(corners, 8);
  const shares = f32x4.splat(share);
  const a = stand(from + oa, to + oa, shares);
  const u = f32x4.sub(stand(from + ob, to + ob, shares), a);
  const w = f32x4.sub(stand(from + oc, to + oc, shares), a);
  writeClosest(u, w, f32x4.sub(place, a));
}

