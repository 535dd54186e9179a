import { measureCapsule, pushX, pushY, pushZ, resolveContact } from './bodies';
import { FACE_SHARE, FACE_SLACK, MOST_FACE_BODIES, MOST_FACE_DIVISIONS, MOST_STRETCHED } from './constants';
import { CAPSULE_BYTES, HULL_BYTES, Slot } from './layout';
import { at, count, dot, number } from './simd';

const SQRT3: f32 = 1.7320508075688772;
const EVEN: f32 = 1e-3;

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
  return listContacts(thin, thinCount, triangleCount);
}

/** For each 16 points, which thin bodies may come to the triangles around them, a bit each (the last for all from there on). */
function markBlocks(thin: usize, thinCount: i32): void {
  const blocks = count(Slot.rowCount) >> 4;
  const marks = at(Slot.searchList);
  const seconds = number(Slot.seconds);
  const beside: f32 = <f32>MOST_STRETCHED * number(Slot.largestFace) + <f32>FACE_SLACK;
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
  const x = at(Slot.positions);
  const v = at(Slot.velocities);
  const masses = at(Slot.inverseMasses);
  const seconds = number(Slot.seconds);
  const marks = at(Slot.searchList);
  // Smaller ones are of one part beside every body.
  let leastHole: f32 = f32.MAX_VALUE;
  for (let i = 0; i < thinCount; i++) leastHole = min<f32>(leastHole, load<f32>(thin + (<usize>i << 6), 12));
  const leastSize: f32 = SQRT3 * leastHole;
  const leastSquared: f32 = leastSize * leastSize;
  let corners = at(Slot.triangles);
  let out = at(Slot.faceContacts);
  const first = out;
  for (let t = 0; t < triangleCount; t++, corners += 12) {
    const a = <usize>load<u32>(corners, 0);
    const b = <usize>load<u32>(corners, 4);
    const c = <usize>load<u32>(corners, 8);
    const mark = load<u32>(marks + ((a >> 8) << 2)) | load<u32>(marks + ((b >> 8) << 2)) | load<u32>(marks + ((c >> 8) << 2));
    if (mark == 0) continue;
    if (load<f32>(masses + (a >> 2)) + load<f32>(masses + (b >> 2)) + load<f32>(masses + (c >> 2)) == 0) continue;
    const xa = v128.load(x + a);
    const xb = v128.load(x + b);
    const xc = v128.load(x + c);
    const u = f32x4.sub(xb, xa);
    const w = f32x4.sub(xc, xa);
    const o = f32x4.sub(xc, xb);
    const squared: f32 = max<f32>(dot(u, u), max<f32>(dot(w, w), dot(o, o)));
    if (squared < leastSquared) continue;
    const size: f32 = sqrt<f32>(squared);
    const va = v128.load(v + a);
    const vb = v128.load(v + b);
    const vc = v128.load(v + c);
    const fastest: f32 = max<f32>(dot(va, va), max<f32>(dot(vb, vb), dot(vc, vc)));
    const reach = f32x4.splat(sqrt<f32>(fastest) * seconds + <f32>FACE_SLACK);
    const low = f32x4.sub(f32x4.pmin(xa, f32x4.pmin(xb, xc)), reach);
    const high = f32x4.add(f32x4.pmax(xa, f32x4.pmax(xb, xc)), reach);
    let found = 0;
    for (let i = 0; i < thinCount && found < MOST_FACE_BODIES; i++) {
      if (((mark >> <u32>min<i32>(i, 31)) & 1) == 0) continue;
      const box = thin + (<usize>i << 6);
      if (size < SQRT3 * load<f32>(box, 12)) continue;
      const apart = v128.or(f32x4.gt(low, v128.load(box, 16)), f32x4.lt(high, v128.load(box, 0)));
      if ((i32x4.bitmask(apart) & 7) != 0) continue;
      const divisions = <i32>min<f32>(<f32>MOST_FACE_DIVISIONS, ceil<f32>(size / (SQRT3 * load<f32>(box, 12)) - EVEN));
      if (divisions < 2 || isFarFromAxis(box, xa, xb, xc, reach)) continue;
      store<u32>(out, t, 0);
      store<u32>(out, 8 * load<u32>(box, 28) + divisions, 4);
      out += 8;
      found++;
    }
  }
  return <i32>((out - first) >> 3);
}

/** Whether a triangle is farther from a round body's axis than both can come to meet in the frame. */
@inline
function isFarFromAxis(body: usize, xa: v128, xb: v128, xc: v128, reach: v128): bool {
  const most = load<f32>(body, 44);
  if (most == f32.MAX_VALUE) return false;
  const middle = f32x4.mul(f32x4.add(xa, f32x4.add(xb, xc)), f32x4.splat(<f32>(1.0 / 3.0)));
  const q = f32x4.sub(middle, v128.load(body, 32));
  const d = v128.load(body, 48);
  const t: f32 = min<f32>(max<f32>(dot(q, d) * load<f32>(body, 60), 0), 1);
  const away = f32x4.sub(q, f32x4.mul(d, f32x4.splat(t)));
  const size = farthest(f32x4.sub(xa, middle), f32x4.sub(xb, middle), f32x4.sub(xc, middle));
  const limit: f32 = most + size + f32x4.extract_lane(reach, 0);
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
    meetFace(corners, index, record, isHull, divisions);
  }
}

function meetFace(corners: usize, index: i32, record: usize, isHull: bool, divisions: i32): void {
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
  if ((i32x4.bitmask(v128.or(f32x4.gt(bodyLow, high), f32x4.lt(bodyHigh, low))) & 7) != 0) return;
  if (!isHull && isFar(record, xa, xb, xc, sa, sb, sc)) return;
  const wa = load<f32>(masses + (a >> 2));
  const wb = load<f32>(masses + (b >> 2));
  const wc = load<f32>(masses + (c >> 2));
  const part: f32 = <f32>1.0 / <f32>divisions;
  let isMoved = false;
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
  if (!isMoved) return;
  v128.store(x + a, xa);
  v128.store(x + b, xb);
  v128.store(x + c, xc);
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

@inline
function mix(a: v128, b: v128, c: v128, fa: f32, fb: f32, fc: f32): v128 {
  return f32x4.add(
    f32x4.mul(a, f32x4.splat(fa)),
    f32x4.add(f32x4.mul(b, f32x4.splat(fb)), f32x4.mul(c, f32x4.splat(fc))),
  );
}
