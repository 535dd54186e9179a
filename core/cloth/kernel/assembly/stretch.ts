import { Slot } from './layout';
import { at, count } from './simd';

const LEAST_LENGTH: f32 = 1e-9;

/**
 * One pass over the stretch pairs, four at a time: the pairs of a pack share no point. Rows are read and written
 * whole, so no lane is gathered; only the squared lengths are turned.
 */
export function solveStretch(): void {
  const x = at(Slot.positions);
  const packs = count(Slot.pairCount) >> 2;
  let pairs = at(Slot.pairs);
  let low = at(Slot.pairLow);
  let high = at(Slot.pairHigh);
  let shareA = at(Slot.pairShareA);
  let shareB = at(Slot.pairShareB);
  const least = f32x4.splat(LEAST_LENGTH);
  for (let pack = 0; pack < packs; pack++) {
    const a0 = x + <usize>load<u32>(pairs, 0);
    const b0 = x + <usize>load<u32>(pairs, 4);
    const a1 = x + <usize>load<u32>(pairs, 8);
    const b1 = x + <usize>load<u32>(pairs, 12);
    const a2 = x + <usize>load<u32>(pairs, 16);
    const b2 = x + <usize>load<u32>(pairs, 20);
    const a3 = x + <usize>load<u32>(pairs, 24);
    const b3 = x + <usize>load<u32>(pairs, 28);
    const xa0 = v128.load(a0);
    const xb0 = v128.load(b0);
    const xa1 = v128.load(a1);
    const xb1 = v128.load(b1);
    const xa2 = v128.load(a2);
    const xb2 = v128.load(b2);
    const xa3 = v128.load(a3);
    const xb3 = v128.load(b3);
    const d0 = f32x4.sub(xb0, xa0);
    const d1 = f32x4.sub(xb1, xa1);
    const d2 = f32x4.sub(xb2, xa2);
    const d3 = f32x4.sub(xb3, xa3);
    const t0 = v128.shuffle<f32>(d0, d1, 0, 4, 1, 5);
    const t1 = v128.shuffle<f32>(d2, d3, 0, 4, 1, 5);
    const t2 = v128.shuffle<f32>(d0, d1, 2, 6, 3, 7);
    const t3 = v128.shuffle<f32>(d2, d3, 2, 6, 3, 7);
    const dx = v128.shuffle<f32>(t0, t1, 0, 1, 4, 5);
    const dy = v128.shuffle<f32>(t0, t1, 2, 3, 6, 7);
    const dz = v128.shuffle<f32>(t2, t3, 0, 1, 4, 5);
    const length = f32x4.sqrt(f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz)));
    const wanted = f32x4.pmin(f32x4.pmax(length, v128.load(low)), v128.load(high));
    const pull = f32x4.div(f32x4.sub(length, wanted), f32x4.pmax(length, least));
    const pa = f32x4.mul(pull, v128.load(shareA));
    const pb = f32x4.mul(pull, v128.load(shareB));
    v128.store(a0, f32x4.add(xa0, f32x4.mul(d0, v128.shuffle<f32>(pa, pa, 0, 0, 0, 0))));
    v128.store(b0, f32x4.sub(xb0, f32x4.mul(d0, v128.shuffle<f32>(pb, pb, 0, 0, 0, 0))));
    v128.store(a1, f32x4.add(xa1, f32x4.mul(d1, v128.shuffle<f32>(pa, pa, 1, 1, 1, 1))));
    v128.store(b1, f32x4.sub(xb1, f32x4.mul(d1, v128.shuffle<f32>(pb, pb, 1, 1, 1, 1))));
    v128.store(a2, f32x4.add(xa2, f32x4.mul(d2, v128.shuffle<f32>(pa, pa, 2, 2, 2, 2))));
    v128.store(b2, f32x4.sub(xb2, f32x4.mul(d2, v128.shuffle<f32>(pb, pb, 2, 2, 2, 2))));
    v128.store(a3, f32x4.add(xa3, f32x4.mul(d3, v128.shuffle<f32>(pa, pa, 3, 3, 3, 3))));
    v128.store(b3, f32x4.sub(xb3, f32x4.mul(d3, v128.shuffle<f32>(pb, pb, 3, 3, 3, 3))));
    pairs += 32;
    low += 16;
    high += 16;
    shareA += 16;
    shareB += 16;
  }
}

/** Takes a share of the speed at which the ends of each pair part or meet, once a frame. */
export function dampEdges(): void {
  const x = at(Slot.positions);
  const v = at(Slot.velocities);
  const pairCount = count(Slot.pairCount);
  const pairs = at(Slot.pairs);
  const dampA = at(Slot.pairDampA);
  const dampB = at(Slot.pairDampB);
  const least = LEAST_LENGTH * LEAST_LENGTH;
  for (let s = 0; s < pairCount; s++) {
    const a = <usize>load<u32>(pairs + (s << 3));
    const b = <usize>load<u32>(pairs + (s << 3), 4);
    const d = f32x4.sub(v128.load(x + b), v128.load(x + a));
    const va = v128.load(v + a);
    const vb = v128.load(v + b);
    const squares = f32x4.mul(d, d);
    const squared =
      f32x4.extract_lane(squares, 0) + f32x4.extract_lane(squares, 1) + f32x4.extract_lane(squares, 2);
    const along = f32x4.mul(f32x4.sub(vb, va), d);
    const speed = f32x4.extract_lane(along, 0) + f32x4.extract_lane(along, 1) + f32x4.extract_lane(along, 2);
    const parting = speed / (squared > least ? squared : least);
    v128.store(v + a, f32x4.add(va, f32x4.mul(d, f32x4.splat(parting * load<f32>(dampA + (s << 2))))));
    v128.store(v + b, f32x4.sub(vb, f32x4.mul(d, f32x4.splat(parting * load<f32>(dampB + (s << 2))))));
  }
}
