import { MEETING_SLACK } from './constants';
import { Slot, Surface } from './layout';
import { at, count, dot, number } from './simd';
import { distanceOf, field } from './surfaces';

const FAST_SHARE: f32 = 0.5;

/** What the block that was swept last covers, and its mean way with its spread in w. */
let low: v128 = f32x4.splat(0);
let high: v128 = f32x4.splat(0);
let way: v128 = f32x4.splat(0);

/** Notes which blocks of points are to look for a body in every substep, and whether there are any, see `constraints/fast-blocks.ts`. */
export function noteFastBlocks(surface: usize): void {
  store<i32>(surface + (Surface.isFast << 2), 0);
  const flags = field(surface, Surface.fastBlocks);
  const pointCount = count(Slot.pointCount);
  memory.fill(flags, 0, <usize>((pointCount + 15) >> 4) << 2);
  if (!load<i32>(surface + (Surface.isBody << 2))) return;
  const from = field(surface, Surface.from);
  const to = field(surface, Surface.to);
  const bodyCount = <i32>field(surface, Surface.pointCount);
  const blocks = (bodyCount + 3) >> 2;
  // Work space of the search, which starts anew each time: twelve numbers for four points are what it holds.
  const boxes = at(Slot.searchTurned);
  for (let block = 0; block < blocks; block++) {
    sweep(block << 2, min<i32>(bodyCount, (block + 1) << 2), from, to, 0, 0);
    const box = boxes + <usize>block * 48;
    v128.store(box, low, 0);
    v128.store(box, high, 16);
    v128.store(box, way, 32);
  }
  const near = f32x4.splat(distanceOf(surface) + <f32>MEETING_SLACK);
  const fast: f32 = FAST_SHARE * load<f32>(surface + (Surface.spacing << 2));
  const x = at(Slot.positions);
  const v = at(Slot.velocities);
  const masses = at(Slot.inverseMasses);
  for (let first = 0; first < pointCount; first += 16) {
    if (!sweep(first, min<i32>(pointCount, first + 16), x, v, masses, number(Slot.seconds))) continue;
    const begin = f32x4.sub(low, near);
    const end = f32x4.add(high, near);
    const spread: f32 = f32x4.extract_lane(way, 3);
    const mean = f32x4.replace_lane(way, 3, 0);
    for (let block = 0; block < blocks; block++) {
      const box = boxes + <usize>block * 48;
      if (v128.any_true(v128.or(f32x4.gt(v128.load(box, 0), end), f32x4.lt(v128.load(box, 16), begin)))) continue;
      const other = v128.load(box, 32);
      const against = f32x4.sub(mean, f32x4.replace_lane(other, 3, 0));
      const most: f32 = sqrt<f32>(dot(against, against)) + spread + f32x4.extract_lane(other, 3);
      if (most <= fast) continue;
      store<u32>(flags + (<usize>(first >> 4) << 2), 1);
      store<i32>(surface + (Surface.isFast << 2), 1);
      break;
    }
  }
}

/**
 * @param ends - Where the rows are at the end of the frame; with `masses` their velocities, of those that are free.
 * @returns Whether any counts.
 */
function sweep(first: i32, last: i32, rows: usize, ends: usize, masses: usize, seconds: f32): bool {
  const zero = f32x4.splat(0);
  low = f32x4.splat(f32.MAX_VALUE);
  high = f32x4.splat(-f32.MAX_VALUE);
  let sum = zero;
  let total = 0;
  for (let i = first; i < last; i++) {
    if (masses && load<f32>(masses + (<usize>i << 2)) == 0) continue;
    const place = v128.load(rows + (<usize>i << 4));
    const by = wayOf(i, place, ends, masses, seconds);
    const end = f32x4.add(place, by);
    low = f32x4.pmin(low, f32x4.pmin(place, end));
    high = f32x4.pmax(high, f32x4.pmax(place, end));
    sum = f32x4.add(sum, by);
    total++;
  }
  if (total == 0) return false;
  const mean = f32x4.replace_lane(f32x4.mul(sum, f32x4.splat(<f32>1 / <f32>total)), 3, 0);
  let most: f32 = 0;
  for (let i = first; i < last; i++) {
    if (masses && load<f32>(masses + (<usize>i << 2)) == 0) continue;
    const d = f32x4.sub(wayOf(i, v128.load(rows + (<usize>i << 4)), ends, masses, seconds), mean);
    most = max<f32>(most, dot(d, d));
  }
  low = f32x4.replace_lane(low, 3, 0);
  high = f32x4.replace_lane(high, 3, 0);
  way = f32x4.replace_lane(mean, 3, sqrt<f32>(most));
  return true;
}

@inline
function wayOf(i: i32, place: v128, ends: usize, masses: usize, seconds: f32): v128 {
  const end = v128.load(ends + (<usize>i << 4));
  return masses ? f32x4.mul(f32x4.splat(seconds), end) : f32x4.sub(end, place);
}
