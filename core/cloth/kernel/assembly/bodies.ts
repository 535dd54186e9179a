import { RECOVERY_SPEED } from './constants';
import { BODY_WORK, CAPSULE_BYTES, HULL_BYTES, MOST_CAPSULES, Slot } from './layout';
import { SWEEP_SHARE } from './prepare-bodies';
import { at, count, number } from './simd';

const MOST_SAMPLES = 16;
const ON_AXIS: f32 = 1e-9;

/**
 * Pushes the 16 points of a block out of the bodies that its box meets, see `constraints/bodies.ts`.
 *
 * @param block - x of 16, y of 16, z of 16; behind them their places at the start of the substep, written here.
 * @param box - Box of the points at the start of the substep.
 */
export function meetBodies(row: i32, block: usize, box: usize): void {
  let low = v128.load(box, 0);
  let high = v128.load(box, 16);
  // The box of the points as they are now, turned from fours by coordinate.
  const lowX = least4(v128.load(block, 0), v128.load(block, 16), v128.load(block, 32), v128.load(block, 48));
  const lowY = least4(v128.load(block, 64), v128.load(block, 80), v128.load(block, 96), v128.load(block, 112));
  const lowZ = least4(v128.load(block, 128), v128.load(block, 144), v128.load(block, 160), v128.load(block, 176));
  const highX = most4(v128.load(block, 0), v128.load(block, 16), v128.load(block, 32), v128.load(block, 48));
  const highY = most4(v128.load(block, 64), v128.load(block, 80), v128.load(block, 96), v128.load(block, 112));
  const highZ = most4(v128.load(block, 128), v128.load(block, 144), v128.load(block, 160), v128.load(block, 176));
  low = f32x4.replace_lane(f32x4.pmin(low, f32x4(lowX, lowY, lowZ, 0)), 3, 0);
  high = f32x4.replace_lane(f32x4.pmax(high, f32x4(highX, highY, highZ, 0)), 3, 0);
  const capsuleCount = count(Slot.capsuleCount);
  const hullCount = count(Slot.hullCount);
  let hasStarts = false;
  let farthest: f32 = 0;
  let work = at(Slot.bodyWork);
  let capsule = at(Slot.capsules);
  for (let c = 0; c < capsuleCount; c++, capsule += CAPSULE_BYTES, work += BODY_WORK * 4) {
    if (isApart(capsule, low, high)) continue;
    if (!hasStarts) farthest = writeStarts(row, block);
    hasStarts = true;
    // Point and surface together may move as far as the sum of their ways.
    const most: f32 = farthest + load<f32>(capsule, 124);
    const touched = meetCapsule(row, capsule, block, most > SWEEP_SHARE * load<f32>(capsule, 76));
    noteBody(work, 16, touched);
  }
  let hull = at(Slot.hullBoxes);
  work = at(Slot.bodyWork) + MOST_CAPSULES * BODY_WORK * 4;
  for (let k = 0; k < hullCount; k++, hull += HULL_BYTES, work += BODY_WORK * 4) {
    if (isApart(hull, low, high)) continue;
    if (!hasStarts) writeStarts(row, block);
    hasStarts = true;
    let touched = 0;
    for (let lane = 0; lane < 16; lane++) touched += <i32>meetAlone(row, k, hull, true, block, lane);
    noteBody(work, 16 * (load<u32>(hull, 36) - load<u32>(hull, 32)), touched);
  }
}

/** Counts what a body did to a block. */
@inline
function noteBody(work: usize, tests: u32, touched: u32): void {
  store<u32>(work, load<u32>(work, 0) + tests, 0);
  store<u32>(work, load<u32>(work, 4) + touched, 4);
}

@inline
function isApart(box: usize, low: v128, high: v128): bool {
  return v128.any_true(v128.or(f32x4.gt(v128.load(box, 0), high), f32x4.lt(v128.load(box, 16), low)));
}

@inline
function least4(a: v128, b: v128, c: v128, d: v128): f32 {
  const m = f32x4.pmin(f32x4.pmin(a, b), f32x4.pmin(c, d));
  const n = f32x4.pmin(m, v128.shuffle<f32>(m, m, 2, 3, 0, 1));
  return min<f32>(f32x4.extract_lane(n, 0), f32x4.extract_lane(n, 1));
}

@inline
function most4(a: v128, b: v128, c: v128, d: v128): f32 {
  const m = f32x4.pmax(f32x4.pmax(a, b), f32x4.pmax(c, d));
  const n = f32x4.pmax(m, v128.shuffle<f32>(m, m, 2, 3, 0, 1));
  return max<f32>(f32x4.extract_lane(n, 0), f32x4.extract_lane(n, 1));
}

/** Where the points were at the start of the substep: predicted - h v. @returns The farthest that one moved since. */
function writeStarts(row: i32, block: usize): f32 {
  let most = f32x4.splat(0);
  const h = f32x4.splat(number(Slot.h));
  let p = at(Slot.predicted) + (<usize>row << 4);
  let v = at(Slot.velocities) + (<usize>row << 4);
  for (let out = block + 192; out < block + 256; out += 16) {
    const r0 = f32x4.sub(v128.load(p, 0), f32x4.mul(h, v128.load(v, 0)));
    const r1 = f32x4.sub(v128.load(p, 16), f32x4.mul(h, v128.load(v, 16)));
    const r2 = f32x4.sub(v128.load(p, 32), f32x4.mul(h, v128.load(v, 32)));
    const r3 = f32x4.sub(v128.load(p, 48), f32x4.mul(h, v128.load(v, 48)));
    const t0 = v128.shuffle<f32>(r0, r1, 0, 4, 1, 5);
    const t1 = v128.shuffle<f32>(r2, r3, 0, 4, 1, 5);
    const t2 = v128.shuffle<f32>(r0, r1, 2, 6, 3, 7);
    const t3 = v128.shuffle<f32>(r2, r3, 2, 6, 3, 7);
    const sx = v128.shuffle<f32>(t0, t1, 0, 1, 4, 5);
    const sy = v128.shuffle<f32>(t0, t1, 2, 3, 6, 7);
    const sz = v128.shuffle<f32>(t2, t3, 0, 1, 4, 5);
    v128.store(out, sx, 0);
    v128.store(out, sy, 64);
    v128.store(out, sz, 128);
    const place = out - 192;
    const mx = f32x4.sub(v128.load(place, 0), sx);
    const my = f32x4.sub(v128.load(place, 64), sy);
    const mz = f32x4.sub(v128.load(place, 128), sz);
    most = f32x4.pmax(most, f32x4.add(f32x4.add(f32x4.mul(mx, mx), f32x4.mul(my, my)), f32x4.mul(mz, mz)));
    p += 64;
    v += 64;
  }
  return sqrt<f32>(most4(most, most, most, most));
}

/**
 * The 16 points of a block against one cone. `mayBeFar`: some may move so far that they must be followed on their way.
 * @returns How many were looked at closely, by fours.
 */
function meetCapsule(row: i32, capsule: usize, block: usize, mayBeFar: bool): u32 {
  let touched: u32 = 0;
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const ax = v128.load32_splat(capsule, 32);
  const ay = v128.load32_splat(capsule, 36);
  const az = v128.load32_splat(capsule, 40);
  const dx = v128.load32_splat(capsule, 48);
  const dy = v128.load32_splat(capsule, 52);
  const dz = v128.load32_splat(capsule, 56);
  const inverse = v128.load32_splat(capsule, 64);
  const slant = v128.load32_splat(capsule, 68);
  const isTapered = load<f32>(capsule, 68) != 0;
  const reach = f32x4.add(v128.load32_splat(capsule, 44), f32x4.splat(number(Slot.thickness)));
  const growth = v128.load32_splat(capsule, 60);
  const most = f32x4.add(reach, f32x4.pmax(growth, zero));
  const mostSquared = f32x4.mul(most, most);
  for (let quad = block; quad < block + 64; quad += 16) {
    const qx = f32x4.sub(v128.load(quad, 0), ax);
    const qy = f32x4.sub(v128.load(quad, 64), ay);
    const qz = f32x4.sub(v128.load(quad, 128), az);
    const foot = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(qx, dx), f32x4.mul(qy, dy)), f32x4.mul(qz, dz)), inverse);
    let t = f32x4.pmin(f32x4.pmax(foot, zero), one);
    let cx = f32x4.sub(qx, f32x4.mul(t, dx));
    let cy = f32x4.sub(qy, f32x4.mul(t, dy));
    let cz = f32x4.sub(qz, f32x4.mul(t, dz));
    let squared = f32x4.add(f32x4.add(f32x4.mul(cx, cx), f32x4.mul(cy, cy)), f32x4.mul(cz, cz));
    // Farther from the axis than the larger radius: outside, without a root.
    if (!mayBeFar && !v128.any_true(f32x4.lt(squared, mostSquared))) continue;
    if (isTapered) {
      const hx = f32x4.sub(qx, f32x4.mul(foot, dx));
      const hy = f32x4.sub(qy, f32x4.mul(foot, dy));
      const hz = f32x4.sub(qz, f32x4.mul(foot, dz));
      const height = f32x4.sqrt(f32x4.add(f32x4.add(f32x4.mul(hx, hx), f32x4.mul(hy, hy)), f32x4.mul(hz, hz)));
      t = f32x4.pmin(f32x4.pmax(f32x4.sub(foot, f32x4.mul(height, slant)), zero), one);
      cx = f32x4.sub(qx, f32x4.mul(t, dx));
      cy = f32x4.sub(qy, f32x4.mul(t, dy));
      cz = f32x4.sub(qz, f32x4.mul(t, dz));
      squared = f32x4.add(f32x4.add(f32x4.mul(cx, cx), f32x4.mul(cy, cy)), f32x4.mul(cz, cz));
    }
    const radius = f32x4.add(reach, f32x4.mul(t, growth));
    if (mayBeFar || v128.any_true(f32x4.lt(squared, f32x4.mul(radius, radius)))) {
      touchCapsule(row + <i32>((quad - block) >> 2), capsule, quad, t, cx, cy, cz, squared, radius);
      touched += 4;
    }
  }
  return touched;
}

/** Four points of which some touch the cone, or move far. `quad` is the block, offset to the four. */
function touchCapsule(
  row: i32,
  capsule: usize,
  quad: usize,
  t: v128,
  cx: v128,
  cy: v128,
  cz: v128,
  squared: v128,
  radius: v128,
): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const px = v128.load(quad, 0);
  const py = v128.load(quad, 64);
  const pz = v128.load(quad, 128);
  const length = f32x4.sqrt(squared);
  const depth = f32x4.sub(radius, length);
  // How the points move against the surface in this substep.
  const mx = f32x4.sub(
    f32x4.sub(px, v128.load(quad, 192)),
    f32x4.add(v128.load32_splat(capsule, 80), f32x4.mul(t, v128.load32_splat(capsule, 96))),
  );
  const my = f32x4.sub(
    f32x4.sub(py, v128.load(quad, 256)),
    f32x4.add(v128.load32_splat(capsule, 84), f32x4.mul(t, v128.load32_splat(capsule, 100))),
  );
  const mz = f32x4.sub(
    f32x4.sub(pz, v128.load(quad, 320)),
    f32x4.add(v128.load32_splat(capsule, 88), f32x4.mul(t, v128.load32_splat(capsule, 104))),
  );
  const far = f32x4.gt(
    f32x4.add(f32x4.add(f32x4.mul(mx, mx), f32x4.mul(my, my)), f32x4.mul(mz, mz)),
    v128.load32_splat(capsule, 72),
  );
  const touching = v128.andnot(f32x4.gt(depth, zero), far);
  if (v128.any_true(touching)) {
    const offAxis = f32x4.gt(length, f32x4.splat(ON_AXIS));
    const over = f32x4.div(one, length);
    const nx = v128.bitselect(f32x4.mul(cx, over), v128.load32_splat(capsule, 112), offAxis);
    const ny = v128.bitselect(f32x4.mul(cy, over), v128.load32_splat(capsule, 116), offAxis);
    const nz = v128.bitselect(f32x4.mul(cz, over), v128.load32_splat(capsule, 120), offAxis);
    const normalDisplacement = f32x4.add(f32x4.add(f32x4.mul(mx, nx), f32x4.mul(my, ny)), f32x4.mul(mz, nz));
    const push = f32x4.pmin(
      depth,
      f32x4.pmax(f32x4.sub(f32x4.splat(<f32>RECOVERY_SPEED * number(Slot.h)), normalDisplacement), zero),
    );
    const sx = f32x4.sub(mx, f32x4.mul(normalDisplacement, nx));
    const sy = f32x4.sub(my, f32x4.mul(normalDisplacement, ny));
    const sz = f32x4.sub(mz, f32x4.mul(normalDisplacement, nz));
    const slide = f32x4.sqrt(f32x4.add(f32x4.add(f32x4.mul(sx, sx), f32x4.mul(sy, sy)), f32x4.mul(sz, sz)));
    const hold = f32x4.pmin(f32x4.div(f32x4.mul(f32x4.splat(number(Slot.friction)), push), slide), one);
    const kept = v128.bitselect(hold, zero, f32x4.gt(slide, zero));
    const x = f32x4.sub(f32x4.add(px, f32x4.mul(push, nx)), f32x4.mul(kept, sx));
    const y = f32x4.sub(f32x4.add(py, f32x4.mul(push, ny)), f32x4.mul(kept, sy));
    const z = f32x4.sub(f32x4.add(pz, f32x4.mul(push, nz)), f32x4.mul(kept, sz));
    v128.store(quad, v128.bitselect(x, px, touching), 0);
    v128.store(quad, v128.bitselect(y, py, touching), 64);
    v128.store(quad, v128.bitselect(z, pz, touching), 128);
  }
  if (v128.any_true(far)) {
    const lanes = i32x4.bitmask(far);
    for (let lane = 0; lane < 4; lane++) {
      if ((lanes >> lane) & 1) meetAlone(row, 0, capsule, false, quad, lane);
    }
  }
}

// What `measure` found.
let foundDistance: f32 = 0;
let foundX: f32 = 0;
let foundY: f32 = 0;
let foundZ: f32 = 0;
let foundAlong: f32 = 0;

/** One point against one body, one that moves far or a hull. `block` is offset to lane 0. */
/** @returns Whether it was touched. */
function meetAlone(row: i32, index: i32, body: usize, isHull: bool, block: usize, lane: i32): bool {
  if (load<f32>(at(Slot.inverseMasses) + (<usize>(row + lane) << 2)) == 0) return false;
  const o = block + (<usize>lane << 2);
  const px = load<f32>(o, 0);
  const py = load<f32>(o, 64);
  const pz = load<f32>(o, 128);
  if (!resolveContact(index, body, isHull, px, py, pz, load<f32>(o, 192), load<f32>(o, 256), load<f32>(o, 320))) return false;
  store<f32>(o, px + pushX, 0);
  store<f32>(o, py + pushY, 64);
  store<f32>(o, pz + pushZ, 128);
  return true;
}

// What `resolveContact` found.
export let pushX: f32 = 0;
export let pushY: f32 = 0;
export let pushZ: f32 = 0;

/** The push of one body on a place at p that was at s when the substep began. @returns False when it is not touched. */
export function resolveContact(
  index: i32,
  body: usize,
  isHull: bool,
  px: f32,
  py: f32,
  pz: f32,
  sx: f32,
  sy: f32,
  sz: f32,
): bool {
  const thickness = number(Slot.thickness);
  const h = number(Slot.h);
  measure(body, isHull, px, py, pz);
  let wx: f32;
  let wy: f32;
  let wz: f32;
  if (isHull) {
    const m = at(Slot.hullMotions) + <usize>(index * 48);
    const substeps = <f32>count(Slot.substeps);
    wx = (load<f32>(m, 0) * px + load<f32>(m, 12) * py + load<f32>(m, 24) * pz + load<f32>(m, 36)) / substeps;
    wy = (load<f32>(m, 4) * px + load<f32>(m, 16) * py + load<f32>(m, 28) * pz + load<f32>(m, 40)) / substeps;
    wz = (load<f32>(m, 8) * px + load<f32>(m, 20) * py + load<f32>(m, 32) * pz + load<f32>(m, 44)) / substeps;
  } else {
    wx = load<f32>(body, 80) + foundAlong * load<f32>(body, 96);
    wy = load<f32>(body, 84) + foundAlong * load<f32>(body, 100);
    wz = load<f32>(body, 88) + foundAlong * load<f32>(body, 104);
  }
  const mx: f32 = px - sx - wx;
  const my: f32 = py - sy - wy;
  const mz: f32 = pz - sz - wz;
  const squared: f32 = mx * mx + my * my + mz * mz;
  const sweep = load<f32>(body + (isHull ? 40 : 72));
  let depth: f32 = thickness - foundDistance;
  if (squared > sweep) {
    depth = 0;
    const size = load<f32>(body + (isHull ? 44 : 76));
    const samples = <i32>min<f32>(<f32>MOST_SAMPLES, ceil<f32>(sqrt<f32>(squared) / (SWEEP_SHARE * size)));
    for (let k = 1; k <= samples; k++) {
      const back: f32 = <f32>1.0 - <f32>k / <f32>samples;
      measure(body, isHull, px - back * mx, py - back * my, pz - back * mz);
      if (foundDistance >= thickness) continue;
      depth = thickness - foundDistance - back * (mx * foundX + my * foundY + mz * foundZ);
      break;
    }
  }
  if (depth <= 0) return false;
  const normalDisplacement: f32 = mx * foundX + my * foundY + mz * foundZ;
  const push: f32 = min<f32>(depth, max<f32>(0, <f32>RECOVERY_SPEED * h - normalDisplacement));
  const tx: f32 = mx - normalDisplacement * foundX;
  const ty: f32 = my - normalDisplacement * foundY;
  const tz: f32 = mz - normalDisplacement * foundZ;
  const slide: f32 = sqrt<f32>(tx * tx + ty * ty + tz * tz);
  const kept: f32 = slide > 0 ? min<f32>(1, (number(Slot.friction) * push) / slide) : 0;
  pushX = push * foundX - kept * tx;
  pushY = push * foundY - kept * ty;
  pushZ = push * foundZ - kept * tz;
  return true;
}

function measure(body: usize, isHull: bool, x: f32, y: f32, z: f32): void {
  if (isHull) measureHull(body, x, y, z);
  else measureCapsule(body, x, y, z);
}

function measureHull(hull: usize, x: f32, y: f32, z: f32): void {
  foundDistance = -f32.MAX_VALUE;
  const last = load<u32>(hull, 36);
  for (let p = load<u32>(hull, 32); p < last; p++) {
    const plane = at(Slot.planes) + (<usize>p << 4);
    const nx = load<f32>(plane, 0);
    const ny = load<f32>(plane, 4);
    const nz = load<f32>(plane, 8);
    const distance: f32 = nx * x + ny * y + nz * z - load<f32>(plane, 12);
    if (distance <= foundDistance) continue;
    foundDistance = distance;
    foundX = nx;
    foundY = ny;
    foundZ = nz;
  }
}

/** @returns The distance; the contact stays in `found`. */
export function measureCapsule(capsule: usize, x: f32, y: f32, z: f32): f32 {
  const qx: f32 = x - load<f32>(capsule, 32);
  const qy: f32 = y - load<f32>(capsule, 36);
  const qz: f32 = z - load<f32>(capsule, 40);
  const dx = load<f32>(capsule, 48);
  const dy = load<f32>(capsule, 52);
  const dz = load<f32>(capsule, 56);
  const foot: f32 = (qx * dx + qy * dy + qz * dz) * load<f32>(capsule, 64);
  let t = foot;
  const slant = load<f32>(capsule, 68);
  if (slant != 0) {
    const hx: f32 = qx - foot * dx;
    const hy: f32 = qy - foot * dy;
    const hz: f32 = qz - foot * dz;
    t = foot - sqrt<f32>(hx * hx + hy * hy + hz * hz) * slant;
  }
  t = min<f32>(max<f32>(t, 0), 1);
  const cx: f32 = qx - t * dx;
  const cy: f32 = qy - t * dy;
  const cz: f32 = qz - t * dz;
  const length: f32 = sqrt<f32>(cx * cx + cy * cy + cz * cz);
  foundDistance = length - (load<f32>(capsule, 44) + t * load<f32>(capsule, 60));
  foundAlong = t;
  const isOff = length > ON_AXIS;
  foundX = isOff ? cx / length : load<f32>(capsule, 112);
  foundY = isOff ? cy / length : load<f32>(capsule, 116);
  foundZ = isOff ? cz / length : load<f32>(capsule, 120);
  return foundDistance;
}
