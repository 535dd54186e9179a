import { meetBodies } from './bodies';
import { Slot } from './layout';
import { at, count, number, storeTurned } from './simd';

/** Turns the rows of the skinned places into fours by coordinate: where each starts in the frame, and its way. */
export function turnTargets(): void {
  const quads = count(Slot.rowCount) >> 2;
  let from = at(Slot.targets);
  let to = at(Slot.nextTargets);
  let starts = at(Slot.targetStarts);
  let displacements = at(Slot.targetDisplacements);
  for (let q = 0; q < quads; q++) {
    const r0 = v128.load(from, 0);
    const r1 = v128.load(from, 16);
    const r2 = v128.load(from, 32);
    const r3 = v128.load(from, 48);
    storeTurned(starts, r0, r1, r2, r3);
    storeTurned(
      displacements,
      f32x4.sub(v128.load(to, 0), r0),
      f32x4.sub(v128.load(to, 16), r1),
      f32x4.sub(v128.load(to, 32), r2),
      f32x4.sub(v128.load(to, 48), r3),
    );
    from += 64;
    to += 64;
    starts += 48;
    displacements += 48;
  }
}

/** Where everything would be at the end of the first substep, left alone; and the boxes that it starts in. */
export function predictFirst(): void {
  const rowCount = count(Slot.rowCount);
  const share: f32 = <f32>1.0 / <f32>count(Slot.substeps);
  const x = at(Slot.positions);
  const boxes = at(Slot.boxes);
  for (let row = 0; row < rowCount; row += 16) {
    let low = v128.load(x + (<usize>row << 4));
    let high = low;
    for (let i = row; i < row + 16; i++) {
      const place = v128.load(x + (<usize>i << 4));
      low = f32x4.pmin(low, place);
      high = f32x4.pmax(high, place);
      predictRow(i, place);
    }
    const box = boxes + (<usize>row << 1);
    v128.store(box, low, 0);
    v128.store(box, high, 16);
  }
  placeHeld(share);
}

@inline
function predictRow(i: i32, place: v128): void {
  if (load<f32>(at(Slot.inverseMasses) + (<usize>i << 2)) == 0) return;
  const o = <usize>i << 4;
  const velocity = at(Slot.velocities) + o;
  const h = number(Slot.h);
  const push = v128.load(at(Slot.pushes) + o);
  const v = f32x4.mul(f32x4.add(v128.load(velocity), push), v128.load32_splat(at(Slot.velocityRetention) + (<usize>i << 2)));
  v128.store(velocity, v);
  v128.store(at(Slot.predicted) + o, f32x4.add(place, f32x4.mul(f32x4.splat(h), v)));
}

/** Held points where they are at a share of the frame. Only when no tether reads the places before any more. */
function placeHeld(share: f32): void {
  const heldCount = count(Slot.heldCount);
  const rows = at(Slot.heldRows);
  const targets = at(Slot.targets);
  const nextTargets = at(Slot.nextTargets);
  const predicted = at(Slot.predicted);
  const velocities = at(Slot.velocities);
  const shares = f32x4.splat(share);
  const rate = f32x4.splat(<f32>1.0 / number(Slot.seconds));
  for (let k = 0; k < heldCount; k++) {
    const o = <usize>load<u32>(rows + (<usize>k << 2)) << 4;
    const from = v128.load(targets + o);
    const displacement = f32x4.sub(v128.load(nextTargets + o), from);
    v128.store(predicted + o, f32x4.add(from, f32x4.mul(shares, displacement)));
    v128.store(velocities + o, f32x4.mul(displacement, rate));
  }
}

/**
 * Everything that concerns one point alone, in one pass over blocks of 16: tethers; bodies, culled by the block's box;
 * inward limit; max distance; velocity; and where the point would be after the next substep.
 *
 * @param substep - From 0.
 */
export function advancePoints(substep: i32): void {
  const substeps = count(Slot.substeps);
  const share: f32 = <f32>(substep + 1) / <f32>substeps;
  const nextShare: f32 = <f32>(substep + 2) / <f32>substeps;
  const isLast = substep + 1 == substeps;
  const rowCount = count(Slot.rowCount);
  const block = at(Slot.block);
  const boxes = at(Slot.boxes);
  const hasBodies = count(Slot.capsuleCount) + count(Slot.hullCount) > 0;
  for (let row = 0; row < rowCount; row += 16) {
    const o = <usize>row << 4;
    holdTethers(row, o, block, hasBodies);
    if (hasBodies) meetBodies(row, block, boxes + (<usize>row << 1));
    holdWithinReach(row, block, share);
    finishRows(row, block, isLast, boxes + (<usize>row << 1));
  }
  if (!isLast) placeHeld(nextShare);
}

/** Tethers of 16 points; leaves their places in the block by coordinate (x of 16, y of 16, z of 16). */
@inline
function holdTethers(row: i32, o: usize, block: usize, hasBodies: bool): void {
  let x = at(Slot.positions) + o;
  const held = at(Slot.predicted);
  let anchors = at(Slot.tetherAnchors) + (<usize>row << 2);
  let lengths = at(Slot.tetherLengths) + (<usize>row << 2);
  for (let out = block; out < block + 64; out += 16) {
    const r0 = v128.load(x, 0);
    const r1 = v128.load(x, 16);
    const r2 = v128.load(x, 32);
    const r3 = v128.load(x, 48);
    const a0 = v128.load(held + (<usize>load<u32>(anchors, 0) << 4));
    const a1 = v128.load(held + (<usize>load<u32>(anchors, 4) << 4));
    const a2 = v128.load(held + (<usize>load<u32>(anchors, 8) << 4));
    const a3 = v128.load(held + (<usize>load<u32>(anchors, 12) << 4));
    const t0 = v128.shuffle<f32>(r0, r1, 0, 4, 1, 5);
    const t1 = v128.shuffle<f32>(r2, r3, 0, 4, 1, 5);
    const t2 = v128.shuffle<f32>(r0, r1, 2, 6, 3, 7);
    const t3 = v128.shuffle<f32>(r2, r3, 2, 6, 3, 7);
    const s0 = v128.shuffle<f32>(a0, a1, 0, 4, 1, 5);
    const s1 = v128.shuffle<f32>(a2, a3, 0, 4, 1, 5);
    const s2 = v128.shuffle<f32>(a0, a1, 2, 6, 3, 7);
    const s3 = v128.shuffle<f32>(a2, a3, 2, 6, 3, 7);
    const ax = v128.shuffle<f32>(s0, s1, 0, 1, 4, 5);
    const ay = v128.shuffle<f32>(s0, s1, 2, 3, 6, 7);
    const az = v128.shuffle<f32>(s2, s3, 0, 1, 4, 5);
    const px = v128.shuffle<f32>(t0, t1, 0, 1, 4, 5);
    const py = v128.shuffle<f32>(t0, t1, 2, 3, 6, 7);
    const pz = v128.shuffle<f32>(t2, t3, 0, 1, 4, 5);
    const dx = f32x4.sub(px, ax);
    const dy = f32x4.sub(py, ay);
    const dz = f32x4.sub(pz, az);
    const longest = v128.load(lengths);
    const length = f32x4.sqrt(f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz)));
    const beyond = f32x4.gt(length, longest);
    if (v128.any_true(beyond)) {
      // Where no tether pulls, the place stays as it is to the last bit.
      const scale = f32x4.div(longest, length);
      v128.store(out, v128.bitselect(f32x4.add(ax, f32x4.mul(scale, dx)), px, beyond), 0);
      v128.store(out, v128.bitselect(f32x4.add(ay, f32x4.mul(scale, dy)), py, beyond), 64);
      v128.store(out, v128.bitselect(f32x4.add(az, f32x4.mul(scale, dz)), pz, beyond), 128);
    } else {
      v128.store(out, px, 0);
      v128.store(out, py, 64);
      v128.store(out, pz, 128);
    }
    x += 64;
    anchors += 16;
    lengths += 16;
  }
}

/** Inward limit, then max distance, of the 16 points of the block. */
@inline
function holdWithinReach(row: i32, block: usize, share: f32): void {
  const hasInward = count(Slot.hasInward) != 0;
  let starts = at(Slot.targetStarts) + <usize>row * 12;
  let displacements = at(Slot.targetDisplacements) + <usize>row * 12;
  let inward = at(Slot.inward) + (<usize>row << 4);
  let reach = at(Slot.reach) + (<usize>row << 2);
  const shares = f32x4.splat(share);
  const one = f32x4.splat(1);
  const zero = f32x4.splat(0);
  for (let at16 = block; at16 < block + 64; at16 += 16) {
    const tx = f32x4.add(v128.load(starts, 0), f32x4.mul(shares, v128.load(displacements, 0)));
    const ty = f32x4.add(v128.load(starts, 16), f32x4.mul(shares, v128.load(displacements, 16)));
    const tz = f32x4.add(v128.load(starts, 32), f32x4.mul(shares, v128.load(displacements, 32)));
    let dx = f32x4.sub(v128.load(at16, 0), tx);
    let dy = f32x4.sub(v128.load(at16, 64), ty);
    let dz = f32x4.sub(v128.load(at16, 128), tz);
    if (hasInward) {
      const i0 = v128.load(inward, 0);
      const i1 = v128.load(inward, 16);
      const i2 = v128.load(inward, 32);
      const i3 = v128.load(inward, 48);
      const t0 = v128.shuffle<f32>(i0, i1, 0, 4, 1, 5);
      const t1 = v128.shuffle<f32>(i2, i3, 0, 4, 1, 5);
      const t2 = v128.shuffle<f32>(i0, i1, 2, 6, 3, 7);
      const t3 = v128.shuffle<f32>(i2, i3, 2, 6, 3, 7);
      const ix = v128.shuffle<f32>(t0, t1, 0, 1, 4, 5);
      const iy = v128.shuffle<f32>(t0, t1, 2, 3, 6, 7);
      const iz = v128.shuffle<f32>(t2, t3, 0, 1, 4, 5);
      const radius = v128.shuffle<f32>(t2, t3, 2, 3, 6, 7);
      const cx = f32x4.sub(dx, ix);
      const cy = f32x4.sub(dy, iy);
      const cz = f32x4.sub(dz, iz);
      const distance = f32x4.sqrt(f32x4.add(f32x4.add(f32x4.mul(cx, cx), f32x4.mul(cy, cy)), f32x4.mul(cz, cz)));
      // A radius below zero stands for no limit; at the very centre there is no way out.
      const inside = v128.and(f32x4.lt(distance, radius), f32x4.gt(distance, zero));
      if (v128.any_true(inside)) {
        const scale = f32x4.div(radius, distance);
        dx = v128.bitselect(f32x4.add(ix, f32x4.mul(scale, cx)), dx, inside);
        dy = v128.bitselect(f32x4.add(iy, f32x4.mul(scale, cy)), dy, inside);
        dz = v128.bitselect(f32x4.add(iz, f32x4.mul(scale, cz)), dz, inside);
      }
    }
    const most = v128.load(reach);
    const distance = f32x4.sqrt(f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz)));
    const beyond = f32x4.gt(distance, most);
    const scale = v128.bitselect(f32x4.div(most, distance), one, beyond);
    v128.store(at16, f32x4.add(tx, f32x4.mul(scale, dx)), 0);
    v128.store(at16, f32x4.add(ty, f32x4.mul(scale, dy)), 64);
    v128.store(at16, f32x4.add(tz, f32x4.mul(scale, dz)), 128);
    starts += 48;
    displacements += 48;
    inward += 64;
    reach += 16;
  }
}

/** Back into rows: places, velocities, the next prediction, and the box that the next substep starts in. */
@inline
function finishRows(row: i32, block: usize, isLast: bool, box: usize): void {
  const zero = f32x4.splat(0);
  const o = <usize>row << 4;
  let x = at(Slot.positions) + o;
  let v = at(Slot.velocities) + o;
  let predicted = at(Slot.predicted) + o;
  let masses = at(Slot.inverseMasses) + (<usize>row << 2);
  const h = number(Slot.h);
  const rate = f32x4.splat(<f32>1.0 / h);
  let pushes = at(Slot.pushes) + o;
  let velocityRetention = at(Slot.velocityRetention) + (<usize>row << 2);
  const step = f32x4.splat(h);
  let low = f32x4.splat(f32.MAX_VALUE);
  let high = f32x4.splat(-f32.MAX_VALUE);
  let i = row;
  for (let from = block; from < block + 64; from += 16) {
    const px = v128.load(from, 0);
    const py = v128.load(from, 64);
    const pz = v128.load(from, 128);
    const a = v128.shuffle<f32>(px, py, 0, 4, 1, 5);
    const b = v128.shuffle<f32>(pz, zero, 0, 4, 1, 5);
    const c = v128.shuffle<f32>(px, py, 2, 6, 3, 7);
    const d = v128.shuffle<f32>(pz, zero, 2, 6, 3, 7);
    const r0 = v128.shuffle<f32>(a, b, 0, 1, 4, 5);
    const r1 = v128.shuffle<f32>(a, b, 2, 3, 6, 7);
    const r2 = v128.shuffle<f32>(c, d, 0, 1, 4, 5);
    const r3 = v128.shuffle<f32>(c, d, 2, 3, 6, 7);
    v128.store(x, r0, 0);
    v128.store(x, r1, 16);
    v128.store(x, r2, 32);
    v128.store(x, r3, 48);
    low = f32x4.pmin(f32x4.pmin(low, r0), f32x4.pmin(r1, f32x4.pmin(r2, r3)));
    high = f32x4.pmax(f32x4.pmax(high, r0), f32x4.pmax(r1, f32x4.pmax(r2, r3)));
    const w = v128.load(masses);
    if (i32x4.all_true(w)) {
      let v0 = f32x4.add(v128.load(v, 0), f32x4.mul(f32x4.sub(r0, v128.load(predicted, 0)), rate));
      let v1 = f32x4.add(v128.load(v, 16), f32x4.mul(f32x4.sub(r1, v128.load(predicted, 16)), rate));
      let v2 = f32x4.add(v128.load(v, 32), f32x4.mul(f32x4.sub(r2, v128.load(predicted, 32)), rate));
      let v3 = f32x4.add(v128.load(v, 48), f32x4.mul(f32x4.sub(r3, v128.load(predicted, 48)), rate));
      if (!isLast) {
        v0 = f32x4.mul(f32x4.add(v0, v128.load(pushes, 0)), v128.load32_splat(velocityRetention, 0));
        v1 = f32x4.mul(f32x4.add(v1, v128.load(pushes, 16)), v128.load32_splat(velocityRetention, 4));
        v2 = f32x4.mul(f32x4.add(v2, v128.load(pushes, 32)), v128.load32_splat(velocityRetention, 8));
        v3 = f32x4.mul(f32x4.add(v3, v128.load(pushes, 48)), v128.load32_splat(velocityRetention, 12));
        v128.store(predicted, f32x4.add(r0, f32x4.mul(step, v0)), 0);
        v128.store(predicted, f32x4.add(r1, f32x4.mul(step, v1)), 16);
        v128.store(predicted, f32x4.add(r2, f32x4.mul(step, v2)), 32);
        v128.store(predicted, f32x4.add(r3, f32x4.mul(step, v3)), 48);
      }
      v128.store(v, v0, 0);
      v128.store(v, v1, 16);
      v128.store(v, v2, 32);
      v128.store(v, v3, 48);
    } else {
      finishRow(i, r0, rate, isLast);
      finishRow(i + 1, r1, rate, isLast);
      finishRow(i + 2, r2, rate, isLast);
      finishRow(i + 3, r3, rate, isLast);
    }
    x += 64;
    v += 64;
    predicted += 64;
    masses += 16;
    pushes += 64;
    velocityRetention += 16;
    i += 4;
  }
  v128.store(box, low, 0);
  v128.store(box, high, 16);
}

function finishRow(i: i32, place: v128, rate: v128, isLast: bool): void {
  const o = <usize>i << 4;
  if (load<f32>(at(Slot.inverseMasses) + (<usize>i << 2)) == 0) return;
  const v = at(Slot.velocities) + o;
  const moved = f32x4.sub(place, v128.load(at(Slot.predicted) + o));
  v128.store(v, f32x4.add(v128.load(v), f32x4.mul(moved, rate)));
  if (!isLast) predictRow(i, place);
}

/** Draws points towards the hand, each by its strength. */
export function pullPoints(): void {
  const pulledCount = count(Slot.pulledCount);
  const rows = at(Slot.pulledRows);
  const places = at(Slot.pulledPositions);
  for (let k = 0; k < pulledCount; k++) {
    const row = at(Slot.positions) + (<usize>load<u32>(rows + (<usize>k << 2)) << 4);
    const place = f32x4.replace_lane(v128.load(places + (<usize>k << 4)), 3, 0);
    const x = v128.load(row);
    const strength = f32x4.splat(load<f32>(places + (<usize>k << 4), 12));
    v128.store(row, f32x4.add(x, f32x4.mul(strength, f32x4.sub(place, x))));
  }
}
