import { CAPSULE_BYTES, HULL_BYTES, Slot } from './layout';
import { at, count, dot, number } from './simd';

/** A point that moves farther than this share of a body's least radius in a substep is followed on its way. */
export const SWEEP_SHARE: f32 = 0.5;

/**
 * Bodies as they stand at the end of a substep. A cone's record, in floats:
 *
 *   0 low box, 4 high box · 8 a, ra · 12 d = b - a, rb - ra · 16 1/d², slant, sweep², least radius
 *   20 way of a in the substep · 24 way of b less that of a · 28 some direction across d, farthest way of an end
 *
 * A hull's: 0 low box, 4 high box · 8 first and last plane, sweep², least half width.
 *
 * @param substep - From 0.
 */
export function prepareBodies(substep: i32): void {
  const substeps = <f32>count(Slot.substeps);
  const start: f32 = <f32>substep / substeps;
  const end: f32 = <f32>(substep + 1) / substeps;
  const thickness = number(Slot.thickness);
  const capsuleCount = count(Slot.capsuleCount);
  for (let c = 0; c < capsuleCount; c++) prepareCapsule(c, start, end, thickness);
  const hullCount = count(Slot.hullCount);
  for (let k = 0; k < hullCount; k++) prepareHull(k, start, end, thickness);
}

function prepareCapsule(index: i32, start: f32, end: f32, thickness: f32): void {
  const from = at(Slot.capsulesFrom) + (<usize>index << 5);
  const to = at(Slot.capsulesTo) + (<usize>index << 5);
  const out = at(Slot.capsules) + <usize>(index * CAPSULE_BYTES);
  const a = v128.load(from, 0);
  const b = v128.load(from, 16);
  const changeA = f32x4.sub(v128.load(to, 0), a);
  const changeB = f32x4.sub(v128.load(to, 16), b);
  const beforeA = f32x4.add(a, f32x4.mul(f32x4.splat(start), changeA));
  const beforeB = f32x4.add(b, f32x4.mul(f32x4.splat(start), changeB));
  const afterA = f32x4.add(a, f32x4.mul(f32x4.splat(end), changeA));
  const afterB = f32x4.add(b, f32x4.mul(f32x4.splat(end), changeB));
  const ra = f32x4.extract_lane(afterA, 3);
  const rb = f32x4.extract_lane(afterB, 3);
  const reachA = f32x4.splat(ra + thickness);
  const reachB = f32x4.splat(rb + thickness);
  const low = f32x4.pmin(f32x4.sub(f32x4.pmin(beforeA, afterA), reachA), f32x4.sub(f32x4.pmin(beforeB, afterB), reachB));
  const high = f32x4.pmax(f32x4.add(f32x4.pmax(beforeA, afterA), reachA), f32x4.add(f32x4.pmax(beforeB, afterB), reachB));
  v128.store(out, f32x4.replace_lane(low, 3, -f32.MAX_VALUE), 0);
  v128.store(out, f32x4.replace_lane(high, 3, f32.MAX_VALUE), 16);
  v128.store(out, afterA, 32);
  const d = f32x4.sub(afterB, afterA);
  v128.store(out, d, 48);
  const dx = f32x4.extract_lane(d, 0);
  const dy = f32x4.extract_lane(d, 1);
  const dz = f32x4.extract_lane(d, 2);
  const squared: f32 = dx * dx + dy * dy + dz * dz;
  let slant: f32 = 0;
  if (squared > 0 && ra != rb) {
    const length: f32 = sqrt<f32>(squared);
    const sine: f32 = (ra - rb) / length;
    slant = sine / sqrt<f32>(1 - sine * sine) / length;
  }
  const least: f32 = min<f32>(ra, rb);
  store<f32>(out, squared > 0 ? <f32>1.0 / squared : 0, 64);
  store<f32>(out, slant, 68);
  store<f32>(out, SWEEP_SHARE * least * (SWEEP_SHARE * least), 72);
  store<f32>(out, least, 76);
  const displacementA = f32x4.sub(afterA, beforeA);
  v128.store(out, displacementA, 80);
  v128.store(out, f32x4.sub(f32x4.sub(afterB, beforeB), displacementA), 96);
  storeAcross(out + 112, dx, dy, dz);
  // Farthest way of either end.
  const displacementB = f32x4.sub(afterB, beforeB);
  store<f32>(out, sqrt<f32>(max<f32>(dot(displacementA, displacementA), dot(displacementB, displacementB))), 124);
}

/** Some unit direction at right angles to d; up when d is nothing. */
function storeAcross(out: usize, dx: f32, dy: f32, dz: f32): void {
  let nx: f32 = 0;
  let ny: f32 = dz;
  let nz: f32 = -dy;
  if (abs<f32>(dx) > abs<f32>(dy) || abs<f32>(dx) > abs<f32>(dz)) {
    nx = -dz;
    ny = 0;
    nz = dx;
  }
  const length: f32 = sqrt<f32>(nx * nx + ny * ny + nz * nz);
  store<f32>(out, length > 0 ? nx / length : 0, 0);
  store<f32>(out, length > 0 ? ny / length : 1, 4);
  store<f32>(out, length > 0 ? nz / length : 0, 8);
}

function prepareHull(index: i32, start: f32, end: f32, thickness: f32): void {
  const from = at(Slot.hullBoxesFrom) + (<usize>index << 5);
  const to = at(Slot.hullBoxesTo) + (<usize>index << 5);
  const out = at(Slot.hullBoxes) + <usize>(index * HULL_BYTES);
  const reach = f32x4.splat(thickness);
  for (let corner: usize = 0; corner < 32; corner += 16) {
    const place = v128.load(from + corner);
    const change = f32x4.sub(v128.load(to + corner), place);
    const before = f32x4.add(place, f32x4.mul(f32x4.splat(start), change));
    const after = f32x4.add(place, f32x4.mul(f32x4.splat(end), change));
    if (corner == 0) {
      v128.store(out, f32x4.replace_lane(f32x4.sub(f32x4.pmin(before, after), reach), 3, -f32.MAX_VALUE), 0);
    } else {
      v128.store(out, f32x4.replace_lane(f32x4.add(f32x4.pmax(before, after), reach), 3, f32.MAX_VALUE), 16);
    }
  }
  const hulls = at(Slot.hulls) + (<usize>index << 2);
  const first = load<u32>(hulls, 0);
  const last = load<u32>(hulls, 4);
  const size = load<f32>(at(Slot.hullSizes) + (<usize>index << 2));
  store<u32>(out, first, 32);
  store<u32>(out, last, 36);
  store<f32>(out, SWEEP_SHARE * size * (SWEEP_SHARE * size), 40);
  store<f32>(out, size, 44);
  for (let p = first; p < last; p++) {
    const o = <usize>p << 4;
    const plane = v128.load(at(Slot.planesFrom) + o);
    const change = f32x4.sub(v128.load(at(Slot.planesTo) + o), plane);
    v128.store(at(Slot.planes) + o, f32x4.add(plane, f32x4.mul(f32x4.splat(end), change)));
  }
}
