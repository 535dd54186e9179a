import { SELF_SEARCH } from './constants';
import { Slot, Work } from './layout';
import { listNear, prepareSearch } from './search';
import { addWork, at, count, dot, number } from './simd';

const SELF_CANDIDATES = 16;

/**
 * Pairs that may come too near each other in this frame, see `constraints/self.ts`. Points of a block are compared
 * with those of the blocks near it, four at once.
 *
 * @returns How many.
 */
export function findSelfPairs(): i32 {
  const pointCount = count(Slot.pointCount);
  const selfDistance = number(Slot.selfDistance);
  const reach: f32 = <f32>SELF_SEARCH * selfDistance;
  const reaches = f32x4.splat(reach * reach);
  const x = at(Slot.positions);
  const boxes = at(Slot.searchBoxes);
  const blocks = prepareSearch(x, pointCount);
  let total = 0;
  let looks = 0;
  for (let block = 0; block < blocks; block++) {
    const box = boxes + (<usize>block << 5);
    // Only the blocks up to this one: each pair is met once.
    const near = listNear(v128.load(box, 0), v128.load(box, 16), reach, block + 1);
    const last = min<i32>(pointCount, (block + 1) << 4);
    looks += near << 8;
    for (let i = block << 4; i < last; i++) total = findPairsOf(i, near, reaches, total);
  }
  addWork(Work.selfBoxes, (blocks * (blocks + 1)) >> 1);
  addWork(Work.selfLooks, looks);
  return total;
}

function findPairsOf(i: i32, near: i32, reaches: v128, total: i32): i32 {
  const row = at(Slot.positions) + (<usize>i << 4);
  const px = v128.load32_splat(row, 0);
  const py = v128.load32_splat(row, 4);
  const pz = v128.load32_splat(row, 8);
  const list = at(Slot.searchList);
  const pairs = at(Slot.selfPairs);
  let found = 0;
  for (let k = 0; k < near; k++) {
    const first = load<i32>(list + (<usize>k << 2)) << 4;
    let quad = at(Slot.searchTurned) + <usize>first * 12;
    for (let j = first; j < first + 16 && j < i; j += 4, quad += 48) {
      const dx = f32x4.sub(v128.load(quad, 0), px);
      const dy = f32x4.sub(v128.load(quad, 16), py);
      const dz = f32x4.sub(v128.load(quad, 32), pz);
      const squared = f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz));
      let lanes = i32x4.bitmask(f32x4.lt(squared, reaches));
      while (lanes != 0) {
        const other = j + ctz<i32>(lanes);
        lanes &= lanes - 1;
        if (other >= i || !mayMeet(i, other)) continue;
        if (found == SELF_CANDIDATES) return total;
        store<u32>(pairs + (<usize>total << 3), i, 0);
        store<u32>(pairs + (<usize>total << 3), other, 4);
        total++;
        found++;
      }
    }
  }
  return total;
}

/** Whether two points are kept apart: one of them is free, and they do not lie as near at rest. */
function mayMeet(i: i32, j: i32): bool {
  const masses = at(Slot.inverseMasses);
  if (load<f32>(masses + (<usize>i << 2)) + load<f32>(masses + (<usize>j << 2)) == 0) return false;
  const rest = at(Slot.restPositions);
  const r = f32x4.sub(v128.load(rest + (<usize>j << 4)), v128.load(rest + (<usize>i << 4)));
  const selfDistance = number(Slot.selfDistance);
  return dot(r, r) >= selfDistance * selfDistance;
}

export function solveSelf(pairCount: i32): void {
  addWork(Work.selfPairs, pairCount);
  const x = at(Slot.positions);
  const v = at(Slot.velocities);
  const predicted = at(Slot.predicted);
  const masses = at(Slot.inverseMasses);
  const pairs = at(Slot.selfPairs);
  const selfDistance = number(Slot.selfDistance);
  const friction = number(Slot.friction);
  const h = f32x4.splat(number(Slot.h));
  const leastSquared: f32 = selfDistance * selfDistance;
  let pressed = 0;
  for (let p = 0; p < pairCount; p++) {
    const i = <usize>load<u32>(pairs + (<usize>p << 3), 0);
    const j = <usize>load<u32>(pairs + (<usize>p << 3), 4);
    const a = i << 4;
    const b = j << 4;
    const xa = v128.load(x + a);
    const xb = v128.load(x + b);
    const d = f32x4.sub(xb, xa);
    const squared: f32 = dot(d, d);
    if (squared >= leastSquared || squared == 0) continue;
    pressed++;
    const length: f32 = sqrt<f32>(squared);
    const wa = load<f32>(masses + (i << 2));
    const wb = load<f32>(masses + (j << 2));
    const depth: f32 = selfDistance - length;
    const n = f32x4.div(d, f32x4.splat(length));
    const before = f32x4.sub(
      f32x4.sub(v128.load(predicted + b), v128.load(predicted + a)),
      f32x4.mul(h, f32x4.sub(v128.load(v + b), v128.load(v + a))),
    );
    const m = f32x4.sub(d, before);
    const t = f32x4.sub(m, f32x4.mul(n, f32x4.splat(dot(m, n))));
    const slide: f32 = sqrt<f32>(dot(t, t));
    const kept: f32 = slide > 0 ? min<f32>(1, (friction * depth) / slide) : 0;
    const u = f32x4.div(
      f32x4.sub(f32x4.mul(n, f32x4.splat(depth)), f32x4.mul(t, f32x4.splat(kept))),
      f32x4.splat(wa + wb),
    );
    v128.store(x + a, f32x4.sub(xa, f32x4.mul(u, f32x4.splat(wa))));
    v128.store(x + b, f32x4.add(xb, f32x4.mul(u, f32x4.splat(wb))));
  }
  addWork(Work.selfPresses, pressed);
}
