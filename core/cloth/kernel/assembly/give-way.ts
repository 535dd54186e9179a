import { HELD_BY_TENSION, INERT, TAKEN_BACK } from './constants';
import { Slot } from './layout';
import { at, count, number, turnX, turnY, turnZ } from './simd';

/** How far each thread may be pushed before it slides, as the plain solver states it; four pairs at a time. */
export function updateHolds(): void {
  const slots = <usize>count(Slot.pairCount) << 2;
  const tensions = at(Slot.pointTensions);
  memory.fill(tensions, 0, <usize>count(Slot.rowCount) << 2);
  measureTensions(slots, tensions);
  const pairs = at(Slot.pairs);
  const highs = at(Slot.pairHigh);
  const holds = at(Slot.pairHolds);
  const share = f32x4.splat(<f32>HELD_BY_TENSION);
  for (let slot: usize = 0; slot < slots; slot += 16) {
    const pair = pairs + (slot << 1);
    const tension = f32x4.pmax(gather(tensions, pair), gather(tensions, pair + 4));
    v128.store(holds + slot, f32x4.mul(f32x4.mul(share, tension), v128.load(highs + slot)));
  }
}

/** Lets four threads slide after a substep. @param row - Of the work space of the chains: their directions. */
@inline
export function giveWay(row: usize, slot: usize, multiplier: v128): void {
  const dx = v128.load(row, 0);
  const dy = v128.load(row, 16);
  const dz = v128.load(row, 32);
  const zero = f32x4.splat(0);
  const length = f32x4.sqrt(f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz)));
  const rest = v128.load(at(Slot.pairRest) + slot);
  const high = v128.load(at(Slot.pairHigh) + slot);
  const strained = f32x4.neg(f32x4.mul(f32x4.mul(multiplier, length), v128.load(at(Slot.pairSoftness) + slot)));
  const back = f32x4.mul(f32x4.splat(<f32>TAKEN_BACK * number(Slot.h)), f32x4.sub(high, rest));
  const pushed = f32x4.pmin(f32x4.add(strained, v128.load(at(Slot.pairHolds) + slot)), zero);
  const slid = v128.bitselect(f32x4.pmax(strained, back), pushed, f32x4.gt(strained, zero));
  const bounded = f32x4.pmax(f32x4.add(rest, slid), v128.load(at(Slot.pairLow) + slot));
  v128.store(at(Slot.pairRest) + slot, f32x4.pmin(bounded, high));
}

/** The largest strain of the pairs around each point. */
function measureTensions(slots: usize, tensions: usize): void {
  const x = at(Slot.positions);
  const pairs = at(Slot.pairs);
  const rests = at(Slot.pairRest);
  const highs = at(Slot.pairHigh);
  const sums = at(Slot.pairSum);
  const inert = f32x4.splat(<f32>INERT);
  for (let slot: usize = 0; slot < slots; slot += 16) {
    const pair = pairs + (slot << 1);
    const d0 = difference(x, pair);
    const d1 = difference(x, pair + 8);
    const d2 = difference(x, pair + 16);
    const d3 = difference(x, pair + 24);
    const dx = turnX(d0, d1, d2, d3);
    const dy = turnY(d0, d1, d2, d3);
    const dz = turnZ(d0, d1, d2, d3);
    const length = f32x4.sqrt(f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz)));
    const acts = f32x4.lt(v128.load(sums + slot), inert);
    const strain = v128.and(f32x4.div(f32x4.sub(length, v128.load(rests + slot)), v128.load(highs + slot)), acts);
    raise(tensions, pair, f32x4.extract_lane(strain, 0));
    raise(tensions, pair + 8, f32x4.extract_lane(strain, 1));
    raise(tensions, pair + 16, f32x4.extract_lane(strain, 2));
    raise(tensions, pair + 24, f32x4.extract_lane(strain, 3));
  }
}

@inline
function difference(x: usize, pair: usize): v128 {
  return f32x4.sub(v128.load(x + <usize>load<u32>(pair, 4)), v128.load(x + <usize>load<u32>(pair, 0)));
}

@inline
function raise(tensions: usize, pair: usize, strain: f32): void {
  if (!(strain > 0)) return;
  const a = tensions + <usize>(load<u32>(pair, 0) >> 2);
  const b = tensions + <usize>(load<u32>(pair, 4) >> 2);
  store<f32>(a, max(load<f32>(a), strain));
  store<f32>(b, max(load<f32>(b), strain));
}

/** Numbers of the four points that every other word from an address on names. */
@inline
function gather(values: usize, points: usize): v128 {
  let out = v128.load32_zero(values + <usize>(load<u32>(points, 0) >> 2));
  out = v128.load_lane<f32>(values + <usize>(load<u32>(points, 8) >> 2), out, 1);
  out = v128.load_lane<f32>(values + <usize>(load<u32>(points, 16) >> 2), out, 2);
  return v128.load_lane<f32>(values + <usize>(load<u32>(points, 24) >> 2), out, 3);
}
