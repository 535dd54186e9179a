import { Slot } from './layout';
import { at, storeTurned } from './simd';

/** Where padding stands: far from everything, its square still finite. */
const NOWHERE: f32 = 1e15;

/**
 * Prepares rows for being searched: by fours of points, and the box of each 16. Points lie along a space-filling
 * curve, so that the boxes are small, and most of them are apart from any other.
 *
 * @returns Number of blocks.
 */
export function prepareSearch(rows: usize, rowCount: i32): i32 {
  const blocks = (rowCount + 15) >> 4;
  const nowhere = f32x4.splat(NOWHERE);
  let turned = at(Slot.searchTurned);
  let box = at(Slot.searchBoxes);
  for (let block = 0; block < blocks; block++) {
    let low = f32x4.splat(f32.MAX_VALUE);
    let high = f32x4.splat(-f32.MAX_VALUE);
    for (let i = block << 4; i < (block + 1) << 4; i += 4) {
      let r0 = nowhere;
      let r1 = nowhere;
      let r2 = nowhere;
      let r3 = nowhere;
      const row = rows + (<usize>i << 4);
      if (i < rowCount) {
        r0 = v128.load(row, 0);
        low = f32x4.pmin(low, r0);
        high = f32x4.pmax(high, r0);
      }
      if (i + 1 < rowCount) {
        r1 = v128.load(row, 16);
        low = f32x4.pmin(low, r1);
        high = f32x4.pmax(high, r1);
      }
      if (i + 2 < rowCount) {
        r2 = v128.load(row, 32);
        low = f32x4.pmin(low, r2);
        high = f32x4.pmax(high, r2);
      }
      if (i + 3 < rowCount) {
        r3 = v128.load(row, 48);
        low = f32x4.pmin(low, r3);
        high = f32x4.pmax(high, r3);
      }
      storeTurned(turned, r0, r1, r2, r3);
      turned += 48;
    }
    v128.store(box, f32x4.replace_lane(low, 3, 0), 0);
    v128.store(box, f32x4.replace_lane(high, 3, 0), 16);
    box += 32;
  }
  return blocks;
}

/** Lists the blocks whose boxes come within reach of a box, lowest first. @returns How many. */
export function listNear(low: v128, high: v128, reach: f32, blocks: i32): i32 {
  const reaches = f32x4.splat(reach);
  const from = f32x4.sub(low, reaches);
  const to = f32x4.add(high, reaches);
  const list = at(Slot.searchList);
  let box = at(Slot.searchBoxes);
  let total = 0;
  for (let block = 0; block < blocks; block++, box += 32) {
    if (v128.any_true(v128.or(f32x4.gt(v128.load(box, 0), to), f32x4.lt(v128.load(box, 16), from)))) continue;
    store<u32>(list + (<usize>total << 2), block);
    total++;
  }
  return total;
}
