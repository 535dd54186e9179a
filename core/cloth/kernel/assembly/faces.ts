import { measureCapsule, pushX, pushY, pushZ, resolveContact } from './bodies';
import { FACE_SHARE, FACE_SLACK, MOST_FACE_BODIES, MOST_FACE_DIVISIONS, MOST_STRETCHED } from './constants';
import { BODY_WORK, CAPSULE_BYTES, HULL_BYTES, MOST_CAPSULES, Slot, Work } from './layout';
import { addWork, at, count, dot, mix, number, turnX, turnY, turnZ } from './simd';

const SQRT3: f32 = 1.7320508075688772;
const EVEN: f32 = 1e-3;
/** What is this much nearer than it seems is looked at once more, in full. */
const NEARLY: f32 = 1.0001;

/** Triangles that bodies may come through between their corners, see `constraints/faces.ts`. @returns How many. */
export function findFaceContacts(): i32 {
  const capsuleCount = count(Slot.capsuleCount);
  const hullCount = count(Slot.hullCount);
  const triangleCount = count(Slot.triangleCount);
  const largest: f32 = <f32>MOST_STRETCHED * number(Slot.largestFace);
  // Records of the thin bodies stand in the work space that `prepareBodies` fills later, see `storeCapsule`.
  const thin = at(Slot.capsules);
  let thinCount = 0;
  for (let c = 0; c < capsuleCount; c++) {
    const a = at(Slot.capsulesTo) + (<usize>c << 5);
    const hole = measureHole(min<f32>(load<f32>(a, 12), load<f32>(a, 28)));
    if (!(largest > SQRT3 * hole)) continue;
    storeCapsule(thin + (<usize>thinCount << 6), c, hole);
    thinCount++;
  }
  for (let k = 0; k < hullCount; k++) {
    const hole = measureHole(load<f32>(at(Slot.hullSizes) + (<usize>k << 2)));
    if (!(largest > SQRT3 * hole)) continue;
    storeHull(thin + (<usize>thinCount << 6), k, capsuleCount + k, hole);
    thinCount++;
  }
  if (thinCount == 0) return 0;
  markBlocks(thin, thinCount);
  addWork(Work.faceTriangles, triangleCount);
  return listContacts(thin, thinCount, triangleCount);
}

/** For each 16 points, which thin bodies may come to the triangles around them, a bit each (the last for all from there on). */
function markBlocks(thin: usize, thinCount: i32): void {
  const blocks = count(Slot.rowCount) >> 4;
  const marks = at(Slot.searchList);
  const seconds = number(Slot.seconds);
  // No place of a triangle is farther from its nearest corner than this share of its longest side.
  const beside: f32 = (<f32>MOST_STRETCHED * number(Slot.largestFace)) / SQRT3 + <f32>FACE_SLACK;
  let x = at(Slot.positions);
  let v = at(Slot.velocities);
  for (let block = 0; block < blocks; block++) {
    let low = v128.load(x);
    let high = low;
    let fastest = f32x4.splat(0);
    for (let i: usize = 0; i < 256; i += 16) {
      const place = v128.load(x + i);
      const velocity = v128.load(v + i);
      low = f32x4.pmin(low, place);
      high = f32x4.pmax(high, place);
      fastest = f32x4.pmax(fastest, f32x4.abs(velocity));
    }
    const reach = f32x4.splat(sqrt<f32>(dot(fastest, fastest)) * seconds + beside);
    low = f32x4.sub(low, reach);
    high = f32x4.add(high, reach);
    let mark: u32 = 0;
    for (let i = 0; i < thinCount; i++) {
      const box = thin + (<usize>i << 6);
      const apart = v128.or(f32x4.gt(low, v128.load(box, 16)), f32x4.lt(high, v128.load(box, 0)));
      if ((i32x4.bitmask(apart) & 7) == 0) mark |= 1 << <u32>min<i32>(i, 31);
    }
    store<u32>(marks + (<usize>block << 2), mark);
    x += 256;
    v += 256;
  }
}

function listContacts(thin: usize, thinCount: i32, triangleCount: i32): i32 {
  // Smaller ones are of one part beside every body.
  let leastHole: f32 = f32.MAX_VALUE;
  for (let i = 0; i < thinCount; i++) leastHole = min<f32>(leastHole, load<f32>(thin + (<usize>i << 6), 12));
  const leastSquared = f32x4.splat(3 * leastHole * leastHole);
  const x = at(Slot.positions);
  const marks = at(Slot.searchList);
  const first = at(Slot.faceContacts);
  let corners = at(Slot.triangles);
  let out = first;
  const usual = <f32>MOST_STRETCHED * number(Slot.largestFace);
  const mostUsual = f32x4.splat(usual * usual);
  // Four at a time by their sizes and marks, which few pass; the last of the list may stand more than once.
  for (let t = 0; t < triangleCount; t += 4) {
    const last = triangleCount - 1 - t;
    const second = corners + <usize>(12 * min<i32>(1, last));
    const third = corners + <usize>(12 * min<i32>(2, last));
    const fourth = corners + <usize>(12 * min<i32>(3, last));
    const squared = measureLongest(x, corners, second, third, fourth);
    const large = i32x4.bitmask(f32x4.gt(squared, leastSquared));
    if (large != 0) {
      // Stretched farther, what is beside the blocks of its corners does not tell.
      const huge = i32x4.bitmask(f32x4.gt(squared, mostUsual));
      for (let lane = 0; lane <= min<i32>(3, last); lane++) {
        if (((large >> lane) & 1) == 0) continue;
        const own = corners + <usize>(12 * lane);
        const mark = ((huge >> lane) & 1) != 0 ? <u32>0xffffffff : findMark(marks, own);
        if (mark != 0) out = listBodies(out, t + lane, own, mark, measureSize(x, own), thin, thinCount);
      }
    }
    corners += 48;
  }
  return <i32>((out - first) >> 3);
}

/** The longest side of a triangle. */
@inline
function measureSize(x: usize, corners: usize): f32 {
  const xa = v128.load(x + <usize>load<u32>(corners, 0));
  const xb = v128.load(x + <usize>load<u32>(corners, 4));
  const xc = v128.load(x + <usize>load<u32>(corners, 8));
  return farthest(f32x4.sub(xb, xa), f32x4.sub(xc, xa), f32x4.sub(xc, xb));
}

/** Thin bodies that may come to a triangle, by the blocks of its corners. */
@inline
function findMark(marks: usize, corners: usize): u32 {
  const a = load<u32>(corners, 0);
  const b = load<u32>(corners, 4);
  const c = load<u32>(corners, 8);
  return (
    load<u32>(marks + (<usize>(a >> 8) << 2)) |
    load<u32>(marks + (<usize>(b >> 8) << 2)) |
    load<u32>(marks + (<usize>(c >> 8) << 2))
  );
}

/** Square of the longest side of four triangles. */
@inline
function measureLongest(x: usize, t0: usize, t1: usize, t2: usize, t3: usize): v128 {
  const a0 = v128.load(x + <usize>load<u32>(t0, 0));
  const b0 = v128.load(x + <usize>load<u32>(t0, 4));
  const c0 = v128.load(x + <usize>load<u32>(t0, 8));
  const a1 = v128.load(x + <usize>load<u32>(t1, 0));
  const b1 = v128.load(x + <usize>load<u32>(t1, 4));
  const c1 = v128.load(x + <usize>load<u32>(t1, 8));
  const a2 = v128.load(x + <usize>load<u32>(t2, 0));
  const b2 = v128.load(x + <usize>load<u32>(t2, 4));
  const c2 = v128.load(x + <usize>load<u32>(t2, 8));
  const a3 = v128.load(x + <usize>load<u32>(t3, 0));
  const b3 = v128.load(x + <usize>load<u32>(t3, 4));
  const c3 = v128.load(x + <usize>load<u32>(t3, 8));
  const ab = addSquares(f32x4.sub(b0, a0), f32x4.sub(b1, a1), f32x4.sub(b2, a2), f32x4.sub(b3, a3));
  const bc = addSquares(f32x4.sub(c0, b0), f32x4.sub(c1, b1), f32x4.sub(c2, b2), f32x4.sub(c3, b3));
  const ca = addSquares(f32x4.sub(a0, c0), f32x4.sub(a1, c1), f32x4.sub(a2, c2), f32x4.sub(a3, c3));
  return f32x4.pmax(ab, f32x4.pmax(bc, ca));
}

/** Square of the length of four rows. */
@inline
function addSquares(r0: v128, r1: v128, r2: v128, r3: v128): v128 {
  const x = turnX(r0, r1, r2, r3);
  const y = turnY(r0, r1, r2, r3);
  const z = turnZ(r0, r1, r2, r3);
  return f32x4.add(f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y)), f32x4.mul(z, z));
}

/** The thin bodies of a mark that one large triangle may meet. @returns The end of the list. */
function listBodies(out: usize, t: i32, corners: usize, mark: u32, size: f32, thin: usize, thinCount: i32): usize {
  let low = f32x4.splat(0);
  let high = low;
  let middle = low;
  let reach: f32 = -1;
  let around: f32 = -1;
  let found = 0;
  while (mark != 0 && found < MOST_FACE_BODIES) {
    const bit = ctz<u32>(mark);
    mark &= mark - 1;
    // The last bit stands for all bodies from there on.
    const end = bit == 31 ? thinCount : min<i32>(<i32>bit + 1, thinCount);
    for (let i = <i32>bit; i < end && found < MOST_FACE_BODIES; i++) {
      const box = thin + (<usize>i << 6);
      const hole: f32 = SQRT3 * load<f32>(box, 12);
      // One part would do.
      if (size <= hole + EVEN * hole) continue;
      if (reach < 0) {
        reach = measureWay(corners);
        if (reach < 0) return out;
        const x = at(Slot.positions);
        const xa = v128.load(x + <usize>load<u32>(corners, 0));
        const xb = v128.load(x + <usize>load<u32>(corners, 4));
        const xc = v128.load(x + <usize>load<u32>(corners, 8));
        low = f32x4.sub(f32x4.pmin(xa, f32x4.pmin(xb, xc)), f32x4.splat(reach));
        high = f32x4.add(f32x4.pmax(xa, f32x4.pmax(xb, xc)), f32x4.splat(reach));
        middle = f32x4.mul(f32x4.add(xa, f32x4.add(xb, xc)), f32x4.splat(<f32>(1.0 / 3.0)));
      }
      const apart = v128.or(f32x4.gt(low, v128.load(box, 16)), f32x4.lt(high, v128.load(box, 0)));
      if ((i32x4.bitmask(apart) & 7) != 0) continue;
      if (around < 0) around = measureAround(corners, middle);
      if (isFarFromAxis(box, middle, around + reach)) continue;
      const divisions = <i32>min<f32>(<f32>MOST_FACE_DIVISIONS, ceil<f32>(size / hole - EVEN));
      store<u32>(out, t, 0);
      store<u32>(out, 8 * load<u32>(box, 28) + max<i32>(divisions, 2), 4);
      out += 8;
      found++;
    }
  }
  return out;
}

/** How far a triangle may go in the frame, with slack; below 0 when all corners are held. Exact, since few bodies are listed. */
@inline
function measureWay(corners: usize): f32 {
  const masses = at(Slot.inverseMasses);
  const v = at(Slot.velocities);
  const a = <usize>load<u32>(corners, 0);
  const b = <usize>load<u32>(corners, 4);
  const c = <usize>load<u32>(corners, 8);
  if (load<f32>(masses + (a >> 2)) + load<f32>(masses + (b >> 2)) + load<f32>(masses + (c >> 2)) == 0) return -1;
  const va = v128.load(v + a);
  const vb = v128.load(v + b);
  const vc = v128.load(v + c);
  const fastest: f32 = max<f32>(dot(va, va), max<f32>(dot(vb, vb), dot(vc, vc)));
  return sqrt<f32>(fastest) * number(Slot.seconds) + <f32>FACE_SLACK;
}

/** From the middle of a triangle to its farthest corner. */
@inline
function measureAround(corners: usize, middle: v128): f32 {
  const x = at(Slot.positions);
  return farthest(
    f32x4.sub(v128.load(x + <usize>load<u32>(corners, 0)), middle),
    f32x4.sub(v128.load(x + <usize>load<u32>(corners, 4)), middle),
    f32x4.sub(v128.load(x + <usize>load<u32>(corners, 8)), middle),
  );
}

/** Whether the middle of a triangle is farther from a round body's axis than both can come to meet in the frame. */
@inline
function isFarFromAxis(body: usize, middle: v128, reach: f32): bool {
  const most = load<f32>(body, 44);
  if (most == f32.MAX_VALUE) return false;
  const q = f32x4.sub(middle, v128.load(body, 32));
  const d = v128.load(body, 48);
  const t: f32 = min<f32>(max<f32>(dot(q, d) * load<f32>(body, 60), 0), 1);
  const away = f32x4.sub(q, f32x4.mul(d, f32x4.splat(t)));
  const limit: f32 = most + reach;
  return dot(away, away) > limit * limit;
}

function measureHole(radius: f32): f32 {
  const thickness = number(Slot.thickness);
  const kept: f32 = sqrt<f32>(thickness * (2 * radius + thickness));
  return max<f32>(max<f32>(kept, <f32>FACE_SHARE * radius), 1e-4);
}

/**
 * Low corner of the box over the frame, radius of a hole; high corner, index · a, farthest that its surface is from the axis and goes in
 * the frame · b - a, 1 / (b - a)². The same without an axis for hulls.
 */
function storeCapsule(out: usize, c: i32, hole: f32): void {
  const from = at(Slot.capsulesFrom) + (<usize>c << 5);
  const to = at(Slot.capsulesTo) + (<usize>c << 5);
  let low = f32x4.splat(f32.MAX_VALUE);
  let high = f32x4.splat(-f32.MAX_VALUE);
  for (let end: usize = 0; end < 32; end += 16) {
    for (let k = 0; k < 2; k++) {
      const row = (k == 0 ? from : to) + end;
      const place = v128.load(row);
      const reach = f32x4.splat(load<f32>(row, 12) + number(Slot.thickness));
      low = f32x4.pmin(low, f32x4.sub(place, reach));
      high = f32x4.pmax(high, f32x4.add(place, reach));
    }
  }
  v128.store(out, f32x4.replace_lane(low, 3, hole), 0);
  v128.store(out, high, 16);
  store<u32>(out, c, 28);
  const a = v128.load(to, 0);
  const d = f32x4.sub(v128.load(to, 16), a);
  const moveA = f32x4.sub(a, v128.load(from, 0));
  const moveB = f32x4.sub(v128.load(to, 16), v128.load(from, 16));
  const motion: f32 = sqrt<f32>(max<f32>(dot(moveA, moveA), dot(moveB, moveB)));
  const radius = max<f32>(load<f32>(to, 12), load<f32>(to, 28));
  v128.store(out, f32x4.replace_lane(a, 3, radius + number(Slot.thickness) + motion), 32);
  const squared: f32 = dot(d, d);
  v128.store(out, f32x4.replace_lane(d, 3, squared > 0 ? <f32>1.0 / squared : 0), 48);
}

function storeHull(out: usize, k: i32, index: i32, hole: f32): void {
  const from = at(Slot.hullBoxesFrom) + (<usize>k << 5);
  const to = at(Slot.hullBoxesTo) + (<usize>k << 5);
  const reach = f32x4.splat(number(Slot.thickness));
  const low = f32x4.sub(f32x4.pmin(v128.load(from, 0), v128.load(to, 0)), reach);
  const high = f32x4.add(f32x4.pmax(v128.load(from, 16), v128.load(to, 16)), reach);
  v128.store(out, f32x4.replace_lane(low, 3, hole), 0);
  v128.store(out, high, 16);
  store<u32>(out, index, 28);
  store<f32>(out, f32.MAX_VALUE, 44);
}

/** Pushes triangles off the bodies where those are between their corners. The bodies stand as in this substep. */
export function solveFaces(contactCount: i32): void {
  const capsuleCount = count(Slot.capsuleCount);
  let contact = at(Slot.faceContacts);
  let places = 0;
  for (let i = 0; i < contactCount; i++, contact += 8) {
    const corners = at(Slot.triangles) + <usize>load<u32>(contact, 0) * 12;
    const packed = load<u32>(contact, 4);
    const body = <i32>(packed >> 3);
    const divisions = <i32>(packed & 7);
    const isHull = body >= capsuleCount;
    const index = isHull ? body - capsuleCount : body;
    const record = isHull
      ? at(Slot.hullBoxes) + <usize>(index * HULL_BYTES)
      : at(Slot.capsules) + <usize>(index * CAPSULE_BYTES);
    const work = at(Slot.bodyWork) + <usize>(((isHull ? MOST_CAPSULES : 0) + index) * BODY_WORK * 4);
    store<u32>(work, load<u32>(work, 8) + 1, 8);
    places += meetFace(corners, index, record, isHull, divisions);
  }
  addWork(Work.faceTests, contactCount);
  addWork(Work.facePlaces, places);
}

/** @returns How many places of it were looked at closely. */
function meetFace(corners: usize, index: i32, record: usize, isHull: bool, divisions: i32): i32 {
  const x = at(Slot.positions);
  const v = at(Slot.velocities);
  const predicted = at(Slot.predicted);
  const masses = at(Slot.inverseMasses);
  const h = f32x4.splat(number(Slot.h));
  const a = <usize>load<u32>(corners, 0);
  const b = <usize>load<u32>(corners, 4);
  const c = <usize>load<u32>(corners, 8);
  const sa = f32x4.sub(v128.load(predicted + a), f32x4.mul(h, v128.load(v + a)));
  const sb = f32x4.sub(v128.load(predicted + b), f32x4.mul(h, v128.load(v + b)));
  const sc = f32x4.sub(v128.load(predicted + c), f32x4.mul(h, v128.load(v + c)));
  let xa = v128.load(x + a);
  let xb = v128.load(x + b);
  let xc = v128.load(x + c);
  // All places lie between the corners, so that their box says when none is touched.
  const low = f32x4.pmin(f32x4.pmin(xa, f32x4.pmin(xb, xc)), f32x4.pmin(sa, f32x4.pmin(sb, sc)));
  const high = f32x4.pmax(f32x4.pmax(xa, f32x4.pmax(xb, xc)), f32x4.pmax(sa, f32x4.pmax(sb, sc)));
  const bodyLow = v128.load(record, 0);
  const bodyHigh = v128.load(record, 16);
  if ((i32x4.bitmask(v128.or(f32x4.gt(bodyLow, high), f32x4.lt(bodyHigh, low))) & 7) != 0) return 0;
  if (!isHull) {
    if (divisions == 2 ? !touchesMiddles(record, xa, xb, xc, sa, sb, sc) : isFar(record, xa, xb, xc, sa, sb, sc)) return 0;
  }
  const wa = load<f32>(masses + (a >> 2));
  const wb = load<f32>(masses + (b >> 2));
  const wc = load<f32>(masses + (c >> 2));
  const part: f32 = <f32>1.0 / <f32>divisions;
  let isMoved = false;
  let places = 0;
  for (let i = 0; i <= divisions; i++) {
    for (let j = 0; i + j <= divisions; j++) {
      const k = divisions - i - j;
      if (i == divisions || j == divisions || k == divisions) continue;
      const fa: f32 = <f32>i * part;
      const fb: f32 = <f32>j * part;
      const fc: f32 = <f32>k * part;
      const answer: f32 = wa * fa * fa + wb * fb * fb + wc * fc * fc;
      if (answer == 0) continue;
      const p = mix(xa, xb, xc, fa, fb, fc);
      const s = mix(sa, sb, sc, fa, fb, fc);
      const apart = v128.or(f32x4.gt(bodyLow, f32x4.pmax(p, s)), f32x4.lt(bodyHigh, f32x4.pmin(p, s)));
      if ((i32x4.bitmask(apart) & 7) != 0) continue;
      places++;
      const isTouched = resolveContact(
        index,
        record,
        isHull,
        f32x4.extract_lane(p, 0),
        f32x4.extract_lane(p, 1),
        f32x4.extract_lane(p, 2),
        f32x4.extract_lane(s, 0),
        f32x4.extract_lane(s, 1),
        f32x4.extract_lane(s, 2),
      );
      if (!isTouched) continue;
      isMoved = true;
      const push = f32x4(pushX, pushY, pushZ, 0);
      xa = f32x4.add(xa, f32x4.mul(push, f32x4.splat((wa * fa) / answer)));
      xb = f32x4.add(xb, f32x4.mul(push, f32x4.splat((wb * fb) / answer)));
      xc = f32x4.add(xc, f32x4.mul(push, f32x4.splat((wc * fc) / answer)));
    }
  }
  if (!isMoved) return places;
  v128.store(x + a, xa);
  v128.store(x + b, xb);
  v128.store(x + c, xc);
  return places;
}

/** Whether a round body may touch the middle of a side, or one goes so far that it must be followed on its way. */
@inline
function touchesMiddles(capsule: usize, xa: v128, xb: v128, xc: v128, sa: v128, sb: v128, sc: v128): bool {
  const half = f32x4.splat(0.5);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const ab = f32x4.mul(half, f32x4.add(xa, xb));
  const bc = f32x4.mul(half, f32x4.add(xb, xc));
  const ca = f32x4.mul(half, f32x4.add(xc, xa));
  const px = turnX(ab, bc, ca, ca);
  const py = turnY(ab, bc, ca, ca);
  const pz = turnZ(ab, bc, ca, ca);
  const qx = f32x4.sub(px, v128.load32_splat(capsule, 32));
  const qy = f32x4.sub(py, v128.load32_splat(capsule, 36));
  const qz = f32x4.sub(pz, v128.load32_splat(capsule, 40));
  const dx = v128.load32_splat(capsule, 48);
  const dy = v128.load32_splat(capsule, 52);
  const dz = v128.load32_splat(capsule, 56);
  const dotted = f32x4.add(f32x4.add(f32x4.mul(qx, dx), f32x4.mul(qy, dy)), f32x4.mul(qz, dz));
  const foot = f32x4.mul(dotted, v128.load32_splat(capsule, 64));
  let t = foot;
  if (load<f32>(capsule, 68) != 0) {
    const height = f32x4.sqrt(measureSquared(qx, qy, qz, foot, dx, dy, dz));
    t = f32x4.sub(foot, f32x4.mul(height, v128.load32_splat(capsule, 68)));
  }
  t = f32x4.pmin(f32x4.pmax(t, zero), one);
  const radius = f32x4.mul(
    f32x4.add(
      f32x4.add(v128.load32_splat(capsule, 44), f32x4.splat(number(Slot.thickness))),
      f32x4.mul(t, v128.load32_splat(capsule, 60)),
    ),
    f32x4.splat(NEARLY),
  );
  const near = f32x4.lt(measureSquared(qx, qy, qz, t, dx, dy, dz), f32x4.mul(radius, radius));
  const wab = f32x4.sub(ab, f32x4.mul(half, f32x4.add(sa, sb)));
  const wbc = f32x4.sub(bc, f32x4.mul(half, f32x4.add(sb, sc)));
  const wca = f32x4.sub(ca, f32x4.mul(half, f32x4.add(sc, sa)));
  const mx = f32x4.sub(turnX(wab, wbc, wca, wca), v128.load32_splat(capsule, 80));
  const my = f32x4.sub(turnY(wab, wbc, wca, wca), v128.load32_splat(capsule, 84));
  const mz = f32x4.sub(turnZ(wab, wbc, wca, wca), v128.load32_splat(capsule, 88));
  const ex = v128.load32_splat(capsule, 96);
  const ey = v128.load32_splat(capsule, 100);
  const ez = v128.load32_splat(capsule, 104);
  const sweep = f32x4.div(v128.load32_splat(capsule, 72), f32x4.splat(NEARLY));
  return v128.any_true(v128.or(near, f32x4.gt(measureSquared(mx, my, mz, t, ex, ey, ez), sweep)));
}

/** Squares of the lengths of q - t d. */
@inline
function measureSquared(qx: v128, qy: v128, qz: v128, t: v128, dx: v128, dy: v128, dz: v128): v128 {
  const x = f32x4.sub(qx, f32x4.mul(t, dx));
  const y = f32x4.sub(qy, f32x4.mul(t, dy));
  const z = f32x4.sub(qz, f32x4.mul(t, dz));
  return f32x4.add(f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y)), f32x4.mul(z, z));
}

/** Whether no place of a triangle can touch a round body, by the distance of its middle and by how far all move. */
@inline
function isFar(capsule: usize, xa: v128, xb: v128, xc: v128, sa: v128, sb: v128, sc: v128): bool {
  const middle = f32x4.mul(f32x4.add(xa, f32x4.add(xb, xc)), f32x4.splat(<f32>(1.0 / 3.0)));
  const distance = measureCapsule(
    capsule,
    f32x4.extract_lane(middle, 0),
    f32x4.extract_lane(middle, 1),
    f32x4.extract_lane(middle, 2),
  );
  const size = farthest(f32x4.sub(xa, middle), f32x4.sub(xb, middle), f32x4.sub(xc, middle));
  const way = farthest(f32x4.sub(xa, sa), f32x4.sub(xb, sb), f32x4.sub(xc, sc));
  return distance > number(Slot.thickness) + size + way + load<f32>(capsule, 124);
}

@inline
function farthest(a: v128, b: v128, c: v128): f32 {
  return sqrt<f32>(max<f32>(dot(a, a), max<f32>(dot(b, b), dot(c, c))));
}
