import { INERT } from './constants';
import { Slot } from './layout';
import { at, count, dot } from './simd';

/** Pairs that are longer than so many times their length at rest, see `limit-stretch.ts`. @returns How many. */
export function listLong(most: f32): i32 {
  const pairCount = count(Slot.pairCount);
  const x = at(Slot.positions);
  const sums = at(Slot.pairSum);
  const list = at(Slot.longPairs);
  const squaredMost: f32 = most * most;
  let pair = at(Slot.pairs);
  let rest = at(Slot.pairHigh);
  let total = 0;
  for (let s = 0; s < pairCount; s++, pair += 8, rest += 4) {
    const way = f32x4.sub(v128.load(x + <usize>load<u32>(pair, 4)), v128.load(x + <usize>load<u32>(pair, 0)));
    const length = load<f32>(rest);
    if (!(dot(way, way) > squaredMost * length * length)) continue;
    if (load<f32>(sums + (<usize>s << 2)) == <f32>INERT) continue;
    store<u32>(list + (<usize>total << 2), s);
    total++;
  }
  return total;
}
