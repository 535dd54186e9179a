import { closestB, closestC, closestSquared, footDisplacement, writeClosest } from './closest-point';
import { MOST_PUSH_SPEED, RECOVERY_SPEED, SELF_CLOSING, SELF_FACING, SELF_NEAREST, SELF_OVER, SELF_SEARCH } from './constants';
import { Over, Slot, Work } from './layout';
import { addWork, at, count, cross, dot, number, storeTurned } from './simd';

/** Bytes of an entry of `listNearFaces`. */
const NEAR_BYTES: usize = 12;

/** Triangles that were measured for the points of this frame. */
let candidates = 0;

/** Normal of the triangle that `measureFace` looked at, of any length. */
let normal: v128 = f32x4.splat(0);

/**
 * Points and triangles that may come too near each other in this frame, see `constraints/self-faces.ts`. Sixteen points at a time are compared
 * with the boxes of sixteen triangles, each pair as far apart as its parts can come together in the frame; then points with boxes, with four
 * triangles at once, and with triangles.
 *
 * @returns How many.
 */
export function findSelfFaces(): i32 {
  const pointCount = count(Slot.pointCount);
  const triangleCount = count(Slot.triangleCount);
  const blocks = prepareFaces(triangleCount);
  let looks = 0;
  candidates = 0;
  const x = at(Slot.positions);
  const v = at(Slot.velocities);
  let total = 0;
  for (let first = 0; first < pointCount; first += 16) {
    const last = min<i32>(pointCount, first + 16);
    const row = <usize>first << 4;
    let low = v128.load(x + row);
    let high = low;
    let slow = v128.load(v + row);
    let fast = slow;
    for (let i = first + 1; i < last; i++) {
      const o = <usize>i << 4;
      low = f32x4.pmin(low, v128.load(x + o));
      high = f32x4.pmax(high, v128.load(x + o));
      slow = f32x4.pmin(slow, v128.load(v + o));
      fast = f32x4.pmax(fast, v128.load(v + o));
    }
    const near = listNearFaces(low, high, slow, fast, blocks);
    if (near == 0) continue;
    looks += markPoints(row, near);
    for (let i = first; i < last; i++) total = findFacesOf(i, near, triangleCount, total);
  }
  addWork(Work.faceBoxes, blocks * ((pointCount + 15) >> 4));
  // Sixteen triangles each.
  addWork(Work.faceLooks, looks << 4);
  addWork(Work.faceCandidates, candidates);
  return total;
}

/** Boxes of the triangles by fours, low and high by coordinate; and of each 16, places and velocities: low, high. @returns Number of 16s. */
function prepareFaces(triangleCount: i32): i32 {
  const x = at(Slot.positions);
  const v = at(Slot.velocities);
  const triangles = at(Slot.triangles);
  const order = at(Slot.faceOrder);
  const work = at(Slot.block);
  const third = f32x4.splat(<f32>(1.0 / 3.0));
  const least = f32x4.splat(-f32.MAX_VALUE);
  const most = f32x4.splat(f32.MAX_VALUE);
  const blocks = (triangleCount + 15) >> 4;
  let quad = at(Slot.faceQuads);
  let box = at(Slot.faceBoxes);
  for (let block = 0; block < blocks; block++, box += 64) {
    let low = most;
    let high = least;
    let slow = most;
    let fast = least;
    for (let k = block << 4; k < (block + 1) << 4; k++) {
      const place = work + (<usize>(k & 3) << 4);
      if (k < triangleCount) {
        const corners = triangles + <usize>load<u32>(order + (<usize>k << 2)) * 12;
        const a = <usize>load<u32>(corners, 0);
        const b = <usize>load<u32>(corners, 4);
        const c = <usize>load<u32>(corners, 8);
        const xa = v128.load(x + a);
        const xb = v128.load(x + b);
        const xc = v128.load(x + c);
        const from = f32x4.pmin(xa, f32x4.pmin(xb, xc));
        const to = f32x4.pmax(xa, f32x4.pmax(xb, xc));
        const sum = f32x4.add(v128.load(v + a), f32x4.add(v128.load(v + b), v128.load(v + c)));
        const velocity = f32x4.mul(sum, third);
        v128.store(place, from);
        v128.store(place + 64, to);
        low = f32x4.pmin(low, from);
        high = f32x4.pmax(high, to);
        slow = f32x4.pmin(slow, velocity);
        fast = f32x4.pmax(fast, velocity);
      } else {
        v128.store(place, most);
        v128.store(place + 64, least);
      }
      if ((k & 3) == 3) {
        storeTurned(quad, v128.load(work, 0), v128.load(work, 16), v128.load(work, 32), v128.load(work, 48));
        storeTurned(quad + 48, v128.load(work, 64), v128.load(work, 80), v128.load(work, 96), v128.load(work, 112));
        quad += 96;
      }
    }
    v128.store(box, low, 0);
    v128.store(box, high, 16);
    v128.store(box, slow, 32);
    v128.store(box, fast, 48);
  }
  return blocks;
}

/**
 * Lists the 16s of triangles that some points may come near in this frame: number, square of how near they must be now, and room for which of
 * the points are. @returns How many.
 */
function listNearFaces(low: v128, high: v128, slow: v128, fast: v128, blocks: i32): i32 {
  let box = at(Slot.faceBoxes);
  let entry = at(Slot.faceList);
  let total = 0;
  for (let block = 0; block < blocks; block++, box += 64) {
    const reach = measureReach(slow, fast, box);
    const apart = boxGap(low, high, v128.load(box, 0), v128.load(box, 16));
    if (!(dot(apart, apart) < reach * reach)) continue;
    store<i32>(entry, block, 0);
    store<f32>(entry, reach * reach, 4);
    entry += NEAR_BYTES;
    total++;
  }
  return total;
}

/** Notes which of 16 points are near each 16 of triangles that is listed, a bit each. @returns How many all together. */
function markPoints(row: usize, near: i32): i32 {
  let marked = 0;
  const turned = at(Slot.block);
  for (let q: usize = 0; q < 4; q++) {
    const from = at(Slot.positions) + row + (q << 6);
    storeTurned(turned + q * 48, v128.load(from, 0), v128.load(from, 16), v128.load(from, 32), v128.load(from, 48));
  }
  let entry = at(Slot.faceList);
  for (let n = 0; n < near; n++, entry += NEAR_BYTES) {
    const box = at(Slot.faceBoxes) + (<usize>load<i32>(entry, 0) << 6);
    const reaches = v128.load32_splat(entry, 4);
    let points: u32 = 0;
    for (let q: usize = 0; q < 4; q++) {
      const place = turned + q * 48;
      const dx = squaredGap(v128.load(place, 0), v128.load32_splat(box, 0), v128.load32_splat(box, 16));
      const dy = squaredGap(v128.load(place, 16), v128.load32_splat(box, 4), v128.load32_splat(box, 20));
      const dz = squaredGap(v128.load(place, 32), v128.load32_splat(box, 8), v128.load32_splat(box, 24));
      points |= i32x4.bitmask(f32x4.lt(f32x4.add(f32x4.add(dx, dy), dz), reaches)) << <u32>(q << 2);
    }
    store<u32>(entry, points, 8);
    marked += popcnt<u32>(points);
  }
  return marked;
}

/** How near points of some velocities must be now to meet a triangle of a 16 in this frame, m. */
@inline
function measureReach(slow: v128, fast: v128, box: usize): f32 {
  const fastest = f32x4.pmax(
    f32x4.abs(f32x4.sub(fast, v128.load(box, 32))),
    f32x4.abs(f32x4.sub(v128.load(box, 48), slow)),
  );
  return <f32>SELF_SEARCH * number(Slot.selfDistance) + number(Slot.seconds) * sqrt<f32>(dot(fastest, fastest));
}

/** The way between two boxes, by coordinate; 0 where they overlap. */
@inline
function boxGap(low: v128, high: v128, otherLow: v128, otherHigh: v128): v128 {
  return f32x4.pmax(f32x4.splat(0), f32x4.pmax(f32x4.sub(otherLow, high), f32x4.sub(low, otherHigh)));
}

/** The same of four boxes at once in one coordinate, squared. */
@inline
function squaredGap(place: v128, low: v128, high: v128): v128 {
  const gap = f32x4.pmax(f32x4.splat(0), f32x4.pmax(f32x4.sub(low, place), f32x4.sub(place, high)));
  return f32x4.mul(gap, gap);
}

function findFacesOf(i: i32, near: i32, triangleCount: i32, total: i32): i32 {
  const row = at(Slot.positions) + (<usize>i << 4);
  const p = v128.load(row);
  const px = v128.load32_splat(row, 0);
  const py = v128.load32_splat(row, 4);
  const pz = v128.load32_splat(row, 8);
  const velocity = v128.load(at(Slot.velocities) + (<usize>i << 4));
  const order = at(Slot.faceOrder);
  const triangles = at(Slot.triangles);
  const marks = at(Slot.besideMarks);
  markBeside(i);
  let entry = at(Slot.faceList);
  let found = 0;
  for (let n = 0; n < near; n++, entry += NEAR_BYTES) {
    if (((load<u32>(entry, 8) >> <u32>(i & 15)) & 1) == 0) continue;
    const block = load<i32>(entry, 0);
    const box = at(Slot.faceBoxes) + (<usize>block << 6);
    const apart = boxGap(p, p, v128.load(box, 0), v128.load(box, 16));
    // The point alone comes nearer by less than its block may.
    const reach = measureReach(velocity, velocity, box);
    const reachSquared: f32 = reach * reach;
    if (!(dot(apart, apart) < reachSquared)) continue;
    const reaches = f32x4.splat(reachSquared);
    let quad = at(Slot.faceQuads) + <usize>block * 384;
    for (let k = block << 4; k < (block + 1) << 4; k += 4, quad += 96) {
      const dx = squaredGap(px, v128.load(quad, 0), v128.load(quad, 48));
      const dy = squaredGap(py, v128.load(quad, 16), v128.load(quad, 64));
      const dz = squaredGap(pz, v128.load(quad, 32), v128.load(quad, 80));
      let lanes = i32x4.bitmask(f32x4.lt(f32x4.add(f32x4.add(dx, dy), dz), reaches));
      while (lanes != 0) {
        const place = k + ctz<i32>(lanes);
        lanes &= lanes - 1;
        if (place >= triangleCount) break;
        const t = load<u32>(order + (<usize>place << 2));
        if (load<i32>(marks + (<usize>t << 2)) == i + 1) continue;
        if (mayMeet(i, triangles + <usize>t * 12)) found = insertNearest(found, t);
      }
    }
  }
  const nearest = at(Slot.block);
  const entries = at(Slot.selfPairs) + (<usize>total << 3);
  for (let k: usize = 0; k < <usize>found; k++) {
    store<u32>(entries + (k << 3), i, 0);
    store<u32>(entries + (k << 3), load<u32>(nearest + (k << 3), 4), 4);
  }
  return total + found;
}

/** Marks the triangles that touch a point or one of its neighbours: the threads hold them. */
function markBeside(i: i32): void {
  const starts = at(Slot.besideStart) + (<usize>i << 2);
  const list = at(Slot.besideList);
  const marks = at(Slot.besideMarks);
  const end = load<u32>(starts, 4);
  for (let k = load<u32>(starts, 0); k < end; k++)
    store<i32>(marks + (<usize>load<u32>(list + (<usize>k << 2)) << 2), i + 1);
}

/** Keeps the nearest few of a point in the work space, in order: rank and entry of each. @returns How many there are. */
function insertNearest(found: i32, t: u32): i32 {
  const nearest = at(Slot.block);
  const height: f32 = dot(footDisplacement, normal);
  const size: f32 = dot(normal, normal);
  const squaredHeight: f32 = size > 0 ? (height * height) / size : 0;
  const rank: f32 = closestSquared - <f32>SELF_FACING * squaredHeight;
  if (found == SELF_NEAREST && load<f32>(nearest + ((SELF_NEAREST - 1) << 3)) <= rank) return found;
  let place = nearest + (<usize>min<i32>(found, SELF_NEAREST - 1) << 3);
  while (place > nearest && load<f32>(place - 8) > rank) {
    store<u64>(place, load<u64>(place - 8));
    place -= 8;
  }
  store<f32>(place, rank, 0);
  const isOver = squaredHeight > <f32>SELF_OVER * closestSquared;
  store<u32>(place, 4 * t + (isOver ? (height < 0 ? Over.back : Over.front) : Over.none), 4);
  return min<i32>(found + 1, SELF_NEAREST);
}

/** Whether a point is to be kept off a triangle in this frame. What is between them as they stand is left where `measureFace` puts it. */
function mayMeet(i: i32, corners: usize): bool {
  const o = <usize>i << 4;
  const a = <usize>load<u32>(corners, 0);
  const b = <usize>load<u32>(corners, 4);
  const c = <usize>load<u32>(corners, 8);
  const masses = at(Slot.inverseMasses);
  const ofFace: f32 = load<f32>(masses + (a >> 2)) + load<f32>(masses + (b >> 2)) + load<f32>(masses + (c >> 2));
  if (load<f32>(masses + (o >> 2)) + ofFace == 0) return false;
  const v = at(Slot.velocities);
  const sum = f32x4.add(v128.load(v + a), f32x4.add(v128.load(v + b), v128.load(v + c)));
  const relative = f32x4.sub(v128.load(v + o), f32x4.mul(sum, f32x4.splat(<f32>(1.0 / 3.0))));
  const way: f32 = sqrt<f32>(dot(relative, relative)) * number(Slot.seconds);
  const selfDistance = number(Slot.selfDistance);
  const most: f32 = <f32>SELF_SEARCH * selfDistance;
  const x = at(Slot.positions);
  const p = v128.load(x + o);
  const xa = v128.load(x + a);
  const xb = v128.load(x + b);
  const xc = v128.load(x + c);
  const gap = boxGap(p, p, f32x4.pmin(xa, f32x4.pmin(xb, xc)), f32x4.pmax(xa, f32x4.pmax(xb, xc)));
  if (dot(gap, gap) >= (most + way) * (most + way)) return false;
  candidates++;
  measureFace(x, i, corners);
  const squared = closestSquared;
  const displacement = footDisplacement;
  const across = normal;
  if (squared >= (most + way) * (most + way)) return false;
  measureFace(at(Slot.restPositions), i, corners);
  const apart: f32 = sqrt<f32>(closestSquared) - selfDistance;
  if (apart < 0) return false;
  const limit: f32 = min<f32>(most, selfDistance + <f32>SELF_CLOSING * apart) + way;
  closestSquared = squared;
  footDisplacement = displacement;
  normal = across;
  return squared < limit * limit;
}

/** The way from the foot of a point on a triangle, and the triangle's normal of any length. @param x - Rows. */
function measureFace(x: usize, i: i32, corners: usize): void {
  const a = v128.load(x + <usize>load<u32>(corners, 0));
  const u = f32x4.sub(v128.load(x + <usize>load<u32>(corners, 4)), a);
  const w = f32x4.sub(v128.load(x + <usize>load<u32>(corners, 8)), a);
  writeClosest(u, w, f32x4.sub(v128.load(x + (<usize>i << 4)), a));
  normal = cross(u, w);
}

// Where `measureSelfDepth` pushes.
let direction: v128 = f32x4.splat(0);

export function solveSelfFaces(entryCount: i32): void {
  addWork(Work.facePairs, entryCount);
  const x = at(Slot.positions);
  const v = at(Slot.velocities);
  const predicted = at(Slot.predicted);
  const masses = at(Slot.inverseMasses);
  const friction = number(Slot.friction);
  const h = f32x4.splat(number(Slot.h));
  const mostPush: f32 = <f32>MOST_PUSH_SPEED * number(Slot.h);
  const recovery: f32 = <f32>RECOVERY_SPEED * number(Slot.h);
  let pressed = 0;
  let entry = at(Slot.selfPairs);
  for (let k = 0; k < entryCount; k++, entry += 8) {
    const i = load<i32>(entry, 0);
    const face = load<u32>(entry, 4);
    const corners = at(Slot.triangles) + <usize>(face >> 2) * 12;
    measureFace(x, i, corners);
    const depth = measureSelfDepth(face & 3);
    if (depth <= 0) continue;
    pressed++;
    const o = <usize>i << 4;
    const a = <usize>load<u32>(corners, 0);
    const b = <usize>load<u32>(corners, 4);
    const c = <usize>load<u32>(corners, 8);
    const sb = closestB;
    const sc = closestC;
    const sa: f32 = <f32>1.0 - sb - sc;
    const wi = load<f32>(masses + (o >> 2));
    const wa: f32 = load<f32>(masses + (a >> 2)) * sa;
    const wb: f32 = load<f32>(masses + (b >> 2)) * sb;
    const wc: f32 = load<f32>(masses + (c >> 2)) * sc;
    const answer: f32 = wi + wa * sa + wb * sb + wc * sc;
    if (answer == 0) continue;
    const before = f32x4.mul(h, against(v, o, a, b, c, sa, sb, sc));
    const start = f32x4.sub(against(predicted, o, a, b, c, sa, sb, sc), before);
    const m = f32x4.sub(against(x, o, a, b, c, sa, sb, sc), start);
    const along: f32 = dot(m, direction);
    const most: f32 = mostPush + max<f32>(0, -dot(before, direction));
    const parted: f32 = min<f32>(depth, min<f32>(most, max<f32>(0, recovery - along)));
    const slide: f32 = sqrt<f32>(max<f32>(0, dot(m, m) - along * along));
    const kept: f32 = slide > 0 ? min<f32>(1, (friction * parted) / slide) : 0;
    const across = f32x4.sub(m, f32x4.mul(direction, f32x4.splat(along)));
    const push = f32x4.div(
      f32x4.sub(f32x4.mul(direction, f32x4.splat(parted)), f32x4.mul(across, f32x4.splat(kept))),
      f32x4.splat(answer),
    );
    v128.store(x + o, f32x4.add(v128.load(x + o), f32x4.mul(push, f32x4.splat(wi))));
    v128.store(x + a, f32x4.sub(v128.load(x + a), f32x4.mul(push, f32x4.splat(wa))));
    v128.store(x + b, f32x4.sub(v128.load(x + b), f32x4.mul(push, f32x4.splat(wb))));
    v128.store(x + c, f32x4.sub(v128.load(x + c), f32x4.mul(push, f32x4.splat(wc))));
  }
  addWork(Work.facePresses, pressed);
}

/** A row against its foot on a triangle. */
@inline
function against(rows: usize, o: usize, a: usize, b: usize, c: usize, sa: f32, sb: f32, sc: f32): v128 {
  const onA = f32x4.mul(f32x4.splat(sa), v128.load(rows + a));
  const onB = f32x4.mul(f32x4.splat(sb), v128.load(rows + b));
  const onC = f32x4.mul(f32x4.splat(sc), v128.load(rows + c));
  return f32x4.sub(v128.load(rows + o), f32x4.add(onA, f32x4.add(onB, onC)));
}

/** How far a point is to be pushed along `direction`, from what `measureFace` found: 0 or less, not at all. */
function measureSelfDepth(over: u32): f32 {
  const selfDistance = number(Slot.selfDistance);
  const along: f32 = dot(footDisplacement, normal);
  const isBehind = over == Over.back;
  if (over == Over.none || (isBehind ? along < 0 : along > 0)) {
    if (closestSquared >= selfDistance * selfDistance) return 0;
    const length: f32 = sqrt<f32>(closestSquared);
    if (length == 0) return 0;
    direction = f32x4.div(footDisplacement, f32x4.splat(length));
    return selfDistance - length;
  }
  const size: f32 = sqrt<f32>(dot(normal, normal));
  if (size == 0) return 0;
  // Behind the triangle, and not far beside it: it went through.
  const height: f32 = (isBehind ? -along : along) / size;
  const beside: f32 = sqrt<f32>(max<f32>(0, closestSquared - height * height));
  const outward = f32x4.div(normal, f32x4.splat(size));
  direction = isBehind ? f32x4.neg(outward) : outward;
  return (selfDistance - height) * max<f32>(0, 1 - beside / (<f32>0.5 * selfDistance));
}
