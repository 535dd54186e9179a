import { pushX, pushY, pushZ, resolveContact } from './bodies';
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
  // Boxes and holes of the thin bodies stand in the work space that `prepareBodies` fills later: low, hole; high, index.
  const thin = at(Slot.capsules);
  let thinCount = 0;
  for (let c = 0; c < capsuleCount; c++) {
    const a = at(Slot.capsulesTo) + (<usize>c << 5);
    const hole = measureHole(min<f32>(load<f32>(a, 12), load<f32>(a, 28)));
    if (!(largest > SQRT3 * hole)) continue;
    storeCapsuleBox(thin + (<usize>thinCount << 5), c, hole);
    thinCount++;
  }
  for (let k = 0; k < hullCount; k++) {
    const hole = measureHole(load<f32>(at(Slot.hullSizes) + (<usize>k << 2)));
    if (!(largest > SQRT3 * hole)) continue;
    storeHullBox(thin + (<usize>thinCount << 5), k, capsuleCount + k, hole);
    thinCount++;
  }
  if (thinCount == 0) return 0;
  return listContacts(thin, thinCount, triangleCount);
}

function listContacts(thin: usize, thinCount: i32, triangleCount: i32): i32 {
  const x = at(Slot.positions);
  const v = at(Slot.velocities);
  const masses = at(Slot.inverseMasses);
  const seconds = number(Slot.seconds);
  let corners = at(Slot.triangles);
  let out = at(Slot.faceContacts);
  const first = out;
  for (let t = 0; t < triangleCount; t++, corners += 12) {
    const a = <usize>load<u32>(corners, 0);
    const b = <usize>load<u32>(corners, 4);
    const c = <usize>load<u32>(corners, 8);
    if (load<f32>(masses + (a >> 2)) + load<f32>(masses + (b >> 2)) + load<f32>(masses + (c >> 2)) == 0) continue;
    const xa = v128.load(x + a);
    const xb = v128.load(x + b);
    const xc = v128.load(x + c);
    const va = v128.load(v + a);
    const vb = v128.load(v + b);
    const vc = v128.load(v + c);
    const fastest: f32 = max<f32>(dot(va, va), max<f32>(dot(vb, vb), dot(vc, vc)));
    const reach = f32x4.splat(sqrt<f32>(fastest) * seconds + <f32>FACE_SLACK);
    const low = f32x4.sub(f32x4.pmin(xa, f32x4.pmin(xb, xc)), reach);
    const high = f32x4.add(f32x4.pmax(xa, f32x4.pmax(xb, xc)), reach);
    const u = f32x4.sub(xb, xa);
    const w = f32x4.sub(xc, xa);
    const o = f32x4.sub(xc, xb);
    const size: f32 = sqrt<f32>(max<f32>(dot(u, u), max<f32>(dot(w, w), dot(o, o))));
    let found = 0;
    for (let i = 0; i < thinCount && found < MOST_FACE_BODIES; i++) {
      const box = thin + (<usize>i << 5);
      const apart = v128.or(f32x4.gt(low, v128.load(box, 16)), f32x4.lt(high, v128.load(box, 0)));
      if ((i32x4.bitmask(apart) & 7) != 0) continue;
      const divisions = <i32>min<f32>(<f32>MOST_FACE_DIVISIONS, ceil<f32>(size / (SQRT3 * load<f32>(box, 12)) - EVEN));
      if (divisions < 2) continue;
      store<u32>(out, t, 0);
      store<u32>(out, 8 * load<u32>(box, 28) + divisions, 4);
      out += 8;
      found++;
    }
  }
  return <i32>((out - first) >> 3);
}

function measureHole(radius: f32): f32 {
  const thickness = number(Slot.thickness);
  const kept: f32 = sqrt<f32>(thickness * (2 * radius + thickness));
  return max<f32>(max<f32>(kept, <f32>FACE_SHARE * radius), 1e-4);
}

function storeCapsuleBox(out: usize, c: i32, hole: f32): void {
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
}

function storeHullBox(out: usize, k: i32, index: i32, hole: f32): void {
  const from = at(Slot.hullBoxesFrom) + (<usize>k << 5);
  const to = at(Slot.hullBoxesTo) + (<usize>k << 5);
  const reach = f32x4.splat(number(Slot.thickness));
  const low = f32x4.sub(f32x4.pmin(v128.load(from, 0), v128.load(to, 0)), reach);
  const high = f32x4.add(f32x4.pmax(v128.load(from, 16), v128.load(to, 16)), reach);
  v128.store(out, f32x4.replace_lane(low, 3, hole), 0);
  v128.store(out, high, 16);
  store<u32>(out, index, 28);
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

@inline
function mix(a: v128, b: v128, c: v128, fa: f32, fb: f32, fc: f32): v128 {
  return f32x4.add(
    f32x4.mul(a, f32x4.splat(fa)),
    f32x4.add(f32x4.mul(b, f32x4.splat(fb)), f32x4.mul(c, f32x4.splat(fc))),
  );
}
