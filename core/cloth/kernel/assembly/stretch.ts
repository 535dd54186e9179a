import { giveWay } from './give-way';
import { CHAIN_ROW_BYTES, Slot } from './layout';
import { at, count, turnX, turnY, turnZ } from './simd';

const LEAST_LENGTH: f32 = 1e-9;

/** Addresses of the arrays of pairs, read once a pass. */
let positions: usize = 0;
let pairs: usize = 0;
let rests: usize = 0;
let softness: usize = 0;
let sums: usize = 0;
let couplings: usize = 0;
let endMasses: usize = 0;
let multipliers: usize = 0;
let work: usize = 0;

/**
 * One pass over the stretch pairs: four chains side by side, each a tridiagonal system, as the plain solver states it. The
 * chains of a batch share no point, so all are read before any is written. Rows of points are read and written whole.
 */
export function solveStretch(pass: i32, isLast: bool): void {
  positions = at(Slot.positions);
  pairs = at(Slot.pairs);
  rests = at(Slot.pairRest);
  softness = at(Slot.pairSoftness);
  sums = at(Slot.pairSum);
  couplings = at(Slot.pairCoupling);
  endMasses = at(Slot.pairEndMass);
  multipliers = at(Slot.pairMultipliers);
  work = at(Slot.chainRows);
  const batches = at(Slot.pairBatches);
  const batchCount = count(Slot.batchCount);
  const slides = isLast && count(Slot.givesWay) != 0;
  const keeps = slides || pass > 0 || !isLast;
  for (let batch = 0; batch < batchCount; batch++) {
    const first = load<u32>(batches + (batch << 2));
    const end = load<u32>(batches + (batch << 2), 4);
    eliminate(first, end, pass > 0);
    substitute(first, end, keeps, pass > 0, slides);
  }
}

/** Forward: directions, and each row less its coupling to the one above. */
function eliminate(first: u32, end: u32, isLater: bool): void {
  const leastSquared = f32x4.splat(LEAST_LENGTH * LEAST_LENGTH);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  let pair = pairs + (<usize>first << 5);
  let slot: usize = <usize>first << 4;
  let row = work;
  const a0 = v128.load(positions + <usize>load<u32>(pair, 0));
  const a1 = v128.load(positions + <usize>load<u32>(pair, 8));
  const a2 = v128.load(positions + <usize>load<u32>(pair, 16));
  const a3 = v128.load(positions + <usize>load<u32>(pair, 24));
  let ax = turnX(a0, a1, a2, a3);
  let ay = turnY(a0, a1, a2, a3);
  let az = turnZ(a0, a1, a2, a3);
  let px = zero;
  let py = zero;
  let pz = zero;
  let squaredAbove = zero;
  let ownAbove = zero;
  let inverse = one;
  let right = zero;
  for (let r = first; r < end; r++) {
    const b0 = v128.load(positions + <usize>load<u32>(pair, 4));
    const b1 = v128.load(positions + <usize>load<u32>(pair, 12));
    const b2 = v128.load(positions + <usize>load<u32>(pair, 20));
    const b3 = v128.load(positions + <usize>load<u32>(pair, 28));
    const bx = turnX(b0, b1, b2, b3);
    const by = turnY(b0, b1, b2, b3);
    const bz = turnZ(b0, b1, b2, b3);
    const dx = f32x4.sub(bx, ax);
    const dy = f32x4.sub(by, ay);
    const dz = f32x4.sub(bz, az);
    const squared = f32x4.pmax(
      f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz)),
      leastSquared,
    );
    const along = f32x4.add(f32x4.add(f32x4.mul(dx, px), f32x4.mul(dy, py)), f32x4.mul(dz, pz));
    let wanted = f32x4.sub(f32x4.mul(v128.load(rests + slot), f32x4.sqrt(squared)), squared);
    if (isLater) {
      const given = f32x4.mul(v128.load(softness + slot), v128.load(multipliers + slot));
      wanted = f32x4.sub(wanted, f32x4.mul(given, squared));
    }
    const mass = v128.load(couplings + slot);
    const crossed = f32x4.pmax(f32x4.sub(f32x4.mul(squared, squaredAbove), f32x4.mul(along, along)), zero);
    const coupled = f32x4.mul(mass, f32x4.add(f32x4.mul(squared, ownAbove), f32x4.mul(mass, crossed)));
    const own = f32x4.add(f32x4.mul(v128.load(sums + slot), squared), f32x4.mul(coupled, inverse));
    const coupling = f32x4.mul(mass, along);
    // What is left of the coupling, over the diagonal of the row above.
    const toAbove = f32x4.mul(coupling, inverse);
    inverse = f32x4.div(one, f32x4.add(own, f32x4.mul(v128.load(endMasses + slot), squared)));
    right = f32x4.mul(f32x4.add(wanted, f32x4.mul(coupling, right)), inverse);
    squaredAbove = squared;
    ownAbove = own;
    v128.store(row, dx, 0);
    v128.store(row, dy, 16);
    v128.store(row, dz, 32);
    v128.store(row, toAbove, 48);
    v128.store(row, right, 64);
    ax = bx;
    ay = by;
    az = bz;
    px = dx;
    py = dy;
    pz = dz;
    pair += 32;
    slot += 16;
    row += CHAIN_ROW_BYTES;
  }
}

/**
 * Backward: the multipliers, and each point moved by those of the pairs before and after it.
 * @param keeps - Whether something later needs the multipliers.
 */
function substitute(first: u32, end: u32, keeps: bool, isLater: bool, slides: bool): void {
  const zero = f32x4.splat(0);
  let pair = pairs + (<usize>(end - 1) << 5);
  let slot: usize = <usize>(end - 1) << 4;
  let row = work + <usize>(end - 1 - first) * CHAIN_ROW_BYTES;
  let below = zero;
  let belowToHere = zero;
  let nextX = zero;
  let nextY = zero;
  let nextZ = zero;
  for (let r = end; r > first; r--) {
    const multiplier = f32x4.add(v128.load(row, 64), f32x4.mul(belowToHere, below));
    const x = f32x4.mul(multiplier, v128.load(row, 0));
    const y = f32x4.mul(multiplier, v128.load(row, 16));
    const z = f32x4.mul(multiplier, v128.load(row, 32));
    const mass = v128.load(endMasses + slot);
    movePoints(
      pair + 4,
      f32x4.mul(mass, f32x4.sub(x, nextX)),
      f32x4.mul(mass, f32x4.sub(y, nextY)),
      f32x4.mul(mass, f32x4.sub(z, nextZ)),
    );
    if (keeps) {
      const all = isLater ? f32x4.add(v128.load(multipliers + slot), multiplier) : multiplier;
      v128.store(multipliers + slot, all);
      if (slides) giveWay(row, slot, all);
    }
    nextX = x;
    nextY = y;
    nextZ = z;
    below = multiplier;
    belowToHere = v128.load(row, 48);
    pair -= 32;
    slot -= 16;
    row -= CHAIN_ROW_BYTES;
  }
  pair += 32;
  let mass = v128.load32_zero(massOf(pair, 0));
  mass = v128.load_lane<f32>(massOf(pair, 8), mass, 1);
  mass = v128.load_lane<f32>(massOf(pair, 16), mass, 2);
  mass = v128.load_lane<f32>(massOf(pair, 24), mass, 3);
  mass = f32x4.neg(mass);
  movePoints(pair, f32x4.mul(mass, nextX), f32x4.mul(mass, nextY), f32x4.mul(mass, nextZ));
}

/** Address of the inverse mass of a point; pairs name points by the bytes before their rows. */
@inline
function massOf(pair: usize, lane: usize): usize {
  return at(Slot.inverseMasses) + <usize>(load<u32>(pair + lane) >> 2);
}

/** Adds to the four points that every other word from an address on names. */
@inline
function movePoints(points: usize, dx: v128, dy: v128, dz: v128): void {
  const zero = f32x4.splat(0);
  const xy0 = v128.shuffle<f32>(dx, dy, 0, 4, 1, 5);
  const z0 = v128.shuffle<f32>(dz, zero, 0, 4, 1, 5);
  const xy1 = v128.shuffle<f32>(dx, dy, 2, 6, 3, 7);
  const z1 = v128.shuffle<f32>(dz, zero, 2, 6, 3, 7);
  const p0 = positions + <usize>load<u32>(points, 0);
  const p1 = positions + <usize>load<u32>(points, 8);
  const p2 = positions + <usize>load<u32>(points, 16);
  const p3 = positions + <usize>load<u32>(points, 24);
  v128.store(p0, f32x4.add(v128.load(p0), v128.shuffle<f32>(xy0, z0, 0, 1, 4, 5)));
  v128.store(p1, f32x4.add(v128.load(p1), v128.shuffle<f32>(xy0, z0, 2, 3, 6, 7)));
  v128.store(p2, f32x4.add(v128.load(p2), v128.shuffle<f32>(xy1, z1, 0, 1, 4, 5)));
  v128.store(p3, f32x4.add(v128.load(p3), v128.shuffle<f32>(xy1, z1, 2, 3, 6, 7)));
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
