import { closestB, closestC, closestSquared, footDisplacement, writeClosest } from './closest-point';
import { MEETING_SLACK, MEETING_WAYS, MOST_PUSH_SPEED, MOST_STRETCHED, RECOVERY_SPEED, RIDGE_RISE, SURFACE_DEPTH } from './constants';
import { Slot, Surface, Work } from './layout';
import { at, count, dot, mix, number } from './simd';
import { addSurfaceWork, distanceOf, field } from './surfaces';

const NONE: u32 = 0xffffffff;
const UNKNOWN: u32 = 0xffffffff;

/** Places of a surface that stand out between the points of the cloth, see `constraints/ridges.ts`. Points by the bytes before their rows. */
export function findRidgeContacts(surface: usize): void {
  store<u32>(surface + (Surface.ridgeCount << 2), 0);
  if (!noteNearest(surface)) return;
  const first = field(surface, Surface.ridgeContacts);
  const over = field(surface, Surface.over);
  const last = field(surface, Surface.pointCount) << 4;
  memory.fill(field(surface, Surface.rises), 0xff, last >> 2);
  let out = first;
  ridgeLooks = 0;
  for (let p: usize = 0; p < last; p += 16) {
    if (load<u32>(over + (p >> 2)) == 0 || !isRidge(surface, p)) continue;
    out = addContact(surface, out, p, p);
    out = addMiddles(surface, out, p);
  }
  store<u32>(surface + (Surface.ridgeCount << 2), <u32>((out - first) / 12));
  addSurfaceWork(surface, Work.layerRidgeLooks, ridgeLooks);
}

/** The middles between a point that stands out and those beside it that do. @returns the end of the list. */
function addMiddles(surface: usize, out: usize, p: usize): usize {
  const triangles = field(surface, Surface.triangles);
  const list = field(surface, Surface.aroundList);
  const over = field(surface, Surface.over);
  const start = field(surface, Surface.aroundStart) + (p >> 2);
  const last = load<u32>(start, 4);
  for (let k = load<u32>(start); k < last; k++) {
    const corners = triangles + <usize>load<u32>(list + (<usize>k << 2)) * 12;
    const a = <usize>load<u32>(corners, 0);
    const b = <usize>load<u32>(corners, 4);
    const q = a == p ? b : b == p ? <usize>load<u32>(corners, 8) : a;
    // Seen from both ends, it is taken from the lower.
    if ((p < q || load<u32>(over + (q >> 2)) == 0) && isRidge(surface, q)) out = addContact(surface, out, p, q);
  }
  return out;
}

/** Whether a point stands out of the triangles around it; looked at once a frame: all bits set stand for unknown. */
@inline
function isRidge(surface: usize, p: usize): bool {
  const known = field(surface, Surface.rises) + (p >> 2);
  if (load<u32>(known) == UNKNOWN) store<f32>(known, measureRise(surface, p));
  return load<f32>(known) > 0;
}

/** How far a point stands out of the triangles around it, m; 0 where that is little. */
function measureRise(surface: usize, p: usize): f32 {
  const to = field(surface, Surface.to);
  const triangles = field(surface, Surface.triangles);
  const list = field(surface, Surface.aroundList);
  const start = field(surface, Surface.aroundStart) + (p >> 2);
  const first = load<u32>(start);
  const last = load<u32>(start, 4);
  if (first == last) return 0;
  let sum = f32x4.splat(0);
  for (let k = first; k < last; k++) {
    const corners = triangles + <usize>load<u32>(list + (<usize>k << 2)) * 12;
    sum = f32x4.add(sum, v128.load(to + <usize>load<u32>(corners, 0)));
    sum = f32x4.add(sum, v128.load(to + <usize>load<u32>(corners, 4)));
    sum = f32x4.add(sum, v128.load(to + <usize>load<u32>(corners, 8)));
  }
  const triangleCount = <f32>(last - first);
  // Each triangle has two corners besides; the third is the point itself.
  const own = f32x4.mul(f32x4.splat(3 * triangleCount), v128.load(to + p));
  const rise: f32 = dot(f32x4.sub(own, sum), v128.load(field(surface, Surface.normals) + p)) / (2 * triangleCount);
  return rise > <f32>RIDGE_RISE * load<f32>(surface + (Surface.spacing << 2)) ? rise : 0;
}

/** Of each point of the surface the nearest of the cloth's points that it is nearest to. @returns whether there is one. */
function noteNearest(surface: usize): bool {
  const x = at(Slot.positions);
  const from = field(surface, Surface.from);
  const lasts = field(surface, Surface.nearPoints);
  const over = field(surface, Surface.over);
  memory.fill(over, 0, field(surface, Surface.pointCount) << 2);
  const pointCount = count(Slot.pointCount);
  let hasNearest = false;
  for (let i = 0; i < pointCount; i++) {
    const last = load<u32>(lasts + (<usize>i << 2));
    if (last == 0) continue;
    const known = over + (<usize>(last - 1) << 2);
    const other = load<u32>(known);
    const place = v128.load(from + (<usize>(last - 1) << 4));
    const own = f32x4.sub(v128.load(x + (<usize>i << 4)), place);
    if (other > 0) {
      const theirs = f32x4.sub(v128.load(x + (<usize>(other - 1) << 4)), place);
      if (!(dot(own, own) < dot(theirs, theirs))) continue;
    }
    store<u32>(known, i + 1);
    hasNearest = true;
  }
  return hasNearest;
}

/** Adds the triangle of the cloth that is nearest to the middle of two points, when it can come to touch it. @returns the end of the list. */
function addContact(surface: usize, out: usize, p: usize, q: usize): usize {
  const over = field(surface, Surface.over);
  const last = load<u32>(over + (p >> 2));
  const from = field(surface, Surface.from);
  const to = field(surface, Surface.to);
  const half = f32x4.splat(0.5);
  const place = f32x4.mul(half, f32x4.add(v128.load(from + p), v128.load(from + q)));
  const way = f32x4.sub(f32x4.mul(half, f32x4.add(v128.load(to + p), v128.load(to + q))), place);
  const velocity = v128.load(at(Slot.velocities) + (<usize>(last - 1) << 4));
  const ways: f32 = sqrt<f32>(dot(way, way)) + number(Slot.seconds) * sqrt<f32>(dot(velocity, velocity));
  const above: f32 = distanceOf(surface) + <f32>MEETING_WAYS * ways + <f32>MEETING_SLACK;
  const limit: f32 = max<f32>(above, <f32>SURFACE_DEPTH);
  const nearest = f32x4.sub(v128.load(at(Slot.positions) + (<usize>(last - 1) << 4)), place);
  const most: f32 = limit + <f32>MOST_STRETCHED * number(Slot.largestFace);
  if (dot(nearest, nearest) > most * most) return out;
  foundSquared = limit * limit;
  const found = findTriangleOver(last - 1, place);
  if (found == NONE) return out;
  if (foundSquared >= above * above) {
    const normals = field(surface, Surface.normals);
    if (dot(foundWay, f32x4.add(v128.load(normals + p), v128.load(normals + q))) < 0) return out;
  }
  store<u32>(out, <u32>p, 0);
  store<u32>(out, <u32>q, 4);
  store<u32>(out, found, 8);
  return out + 12;
}

/** Triangles that were looked at for the places of this frame. */
let ridgeLooks: i32 = 0;

// The nearest triangle that `findTriangleOver` found: the square of the way to it, and the way from it.
let foundSquared: f32 = 0;
let foundWay: v128 = f32x4.splat(0);

/** The triangle beside a point of the cloth that is nearest to a place, if it is nearer than `foundSquared`. */
function findTriangleOver(point: u32, place: v128): u32 {
  const triangles = at(Slot.triangles);
  const list = at(Slot.besideList);
  const start = at(Slot.besideStart) + (<usize>point << 2);
  const first = load<u32>(start);
  const end = load<u32>(start, 4);
  ridgeLooks += end - first;
  const row = point << 4;
  let found = NONE;
  // Those that touch the point first: beside what is found there the others are mostly too far.
  for (let k = first; k < end; k++) {
    const t = load<u32>(list + (<usize>k << 2));
    const corners = triangles + <usize>t * 12;
    if (load<u32>(corners, 0) != row && load<u32>(corners, 4) != row && load<u32>(corners, 8) != row) continue;
    if (isNearer(corners, place)) found = t;
  }
  for (let k = first; k < end; k++) {
    const t = load<u32>(list + (<usize>k << 2));
    const corners = triangles + <usize>t * 12;
    if (load<u32>(corners, 0) == row || load<u32>(corners, 4) == row || load<u32>(corners, 8) == row) continue;
    if (isNearer(corners, place)) found = t;
  }
  return found;
}

/** Whether a triangle that is not held is nearer than what was found before; it is what is found then. */
@inline
function isNearer(corners: usize, place: v128): bool {
  const x = at(Slot.positions);
  const masses = at(Slot.inverseMasses);
  const a = <usize>load<u32>(corners, 0);
  const b = <usize>load<u32>(corners, 4);
  const c = <usize>load<u32>(corners, 8);
  const xa = v128.load(x + a);
  const xb = v128.load(x + b);
  const xc = v128.load(x + c);
  const below = f32x4.sub(f32x4.pmin(xa, f32x4.pmin(xb, xc)), place);
  const over = f32x4.sub(place, f32x4.pmax(xa, f32x4.pmax(xb, xc)));
  const beside = f32x4.pmax(f32x4.pmax(below, over), f32x4.splat(0));
  if (dot(beside, beside) >= foundSquared) return false;
  if (load<f32>(masses + (a >> 2)) + load<f32>(masses + (b >> 2)) + load<f32>(masses + (c >> 2)) == 0) return false;
  writeClosest(f32x4.sub(xb, xa), f32x4.sub(xc, xa), f32x4.sub(place, xa));
  if (closestSquared >= foundSquared) return false;
  foundSquared = closestSquared;
  foundWay = footDisplacement;
  return true;
}

/** Keeps triangles of the cloth the margin outside of the places that stand out. */
export function solveRidges(surface: usize, share: f32): void {
  let contact = field(surface, Surface.ridgeContacts);
  const end = contact + field(surface, Surface.ridgeCount) * 12;
  addSurfaceWork(surface, Work.layerRidges, <i32>field(surface, Surface.ridgeCount));
  for (; contact < end; contact += 12) {
    pushTriangle(
      surface,
      share,
      <usize>load<u32>(contact, 0),
      <usize>load<u32>(contact, 4),
      at(Slot.triangles) + <usize>load<u32>(contact, 8) * 12,
    );
  }
}

function pushTriangle(surface: usize, share: f32, p: usize, q: usize, corners: usize): void {
  const from = field(surface, Surface.from);
  const to = field(surface, Surface.to);
  const normals = field(surface, Surface.normals);
  const half = f32x4.splat(0.5);
  const start = f32x4.mul(half, f32x4.add(v128.load(from + p), v128.load(from + q)));
  const way = f32x4.sub(f32x4.mul(half, f32x4.add(v128.load(to + p), v128.load(to + q))), start);
  const place = f32x4.add(start, f32x4.mul(f32x4.splat(share), way));
  const x = at(Slot.positions);
  const a = <usize>load<u32>(corners, 0);
  const b = <usize>load<u32>(corners, 4);
  const c = <usize>load<u32>(corners, 8);
  const xa = v128.load(x + a);
  const xb = v128.load(x + b);
  const xc = v128.load(x + c);
  writeClosest(f32x4.sub(xb, xa), f32x4.sub(xc, xa), f32x4.sub(place, xa));
  const fb = closestB;
  const fc = closestC;
  const fa: f32 = 1 - fb - fc;
  const foot = mix(xa, xb, xc, fa, fb, fc);
  const sum = f32x4.add(v128.load(normals + p), v128.load(normals + q));
  const length: f32 = sqrt<f32>(dot(sum, sum));
  const n = f32x4.mul(sum, f32x4.splat(length > 0 ? <f32>1.0 / length : 0));
  const height: f32 = dot(f32x4.sub(foot, place), n);
  const margin = distanceOf(surface);
  const depth: f32 = margin - height;
  if (depth <= 0 || height < -<f32>SURFACE_DEPTH) return;
  // Beside an open border of the cloth the foot is on the border: it does not reach there.
  const beside: f32 = margin + 0.5 * load<f32>(surface + (Surface.spacing << 2));
  if (closestSquared - height * height > beside * beside) return;
  const masses = at(Slot.inverseMasses);
  const wa: f32 = load<f32>(masses + (a >> 2)) * fa;
  const wb: f32 = load<f32>(masses + (b >> 2)) * fb;
  const wc: f32 = load<f32>(masses + (c >> 2)) * fc;
  const answer: f32 = wa * fa + wb * fb + wc * fc;
  if (answer == 0) return;
  const h = number(Slot.h);
  const v = at(Slot.velocities);
  const predicted = at(Slot.predicted);
  const displacement = f32x4.mul(f32x4.splat(<f32>1.0 / <f32>count(Slot.substeps)), way);
  const ballistic = f32x4.mul(
    f32x4.splat(h),
    mix(v128.load(v + a), v128.load(v + b), v128.load(v + c), fa, fb, fc),
  );
  const before = mix(v128.load(predicted + a), v128.load(predicted + b), v128.load(predicted + c), fa, fb, fc);
  const motion = f32x4.sub(f32x4.add(f32x4.sub(foot, before), ballistic), displacement);
  const normalDisplacement: f32 = dot(motion, n);
  const inertial: f32 = dot(f32x4.sub(ballistic, displacement), n);
  const most: f32 = <f32>MOST_PUSH_SPEED * h + max<f32>(0, -inertial);
  const push: f32 = min<f32>(min<f32>(depth, most), max<f32>(0, <f32>RECOVERY_SPEED * h - normalDisplacement));
  const s = f32x4.sub(motion, f32x4.mul(n, f32x4.splat(normalDisplacement)));
  const slide: f32 = sqrt<f32>(dot(s, s));
  const kept: f32 = slide > 0 ? min<f32>(1, (number(Slot.friction) * push) / slide) : 0;
  const change = f32x4.sub(f32x4.mul(n, f32x4.splat(push)), f32x4.mul(s, f32x4.splat(kept)));
  v128.store(x + a, f32x4.add(xa, f32x4.mul(change, f32x4.splat(wa / answer))));
  v128.store(x + b, f32x4.add(xb, f32x4.mul(change, f32x4.splat(wb / answer))));
  v128.store(x + c, f32x4.add(xc, f32x4.mul(change, f32x4.splat(wc / answer))));
}
