import { Slot, Work } from './layout';
import { addWork, at, count, cross, dot, number } from './simd';

const AIR_DENSITY: f32 = 1.225;
const LEAST_DOUBLE_AREA: f32 = 1e-12;
const WAVE_COUNT = 6;
/** Bytes of four waves laid out by coordinate. */
const FOUR_WAVES: usize = 128;

/** What gravity and the air add to each velocity in a substep, see `constraints/air.ts`. */
export function updatePushes(): void {
  const h = number(Slot.h);
  const pushes = at(Slot.pushes);
  const fall = f32x4(0, number(Slot.gravity) * h, 0, 0);
  const end = pushes + (<usize>count(Slot.rowCount) << 4);
  for (let row = pushes; row < end; row += 16) v128.store(row, fall);
  const drag = number(Slot.airDrag);
  const lift = number(Slot.airLift);
  if (!(drag > 0) && !(lift > 0)) return;
  const x = at(Slot.positions);
  const v = at(Slot.velocities);
  const masses = at(Slot.inverseMasses);
  const mostFactor: f32 = number(Slot.density) / (6 * <f32>count(Slot.airEvery) * h);
  const wind = f32x4(number(Slot.windX), number(Slot.windY), number(Slot.windZ), 0);
  const isTurbulent = hasWaves();
  if (isTurbulent) turnWaves();
  const triangleCount = count(Slot.triangleCount);
  addWork(Work.airTriangles, triangleCount);
  if (isTurbulent) addWork(Work.gustTriangles, triangleCount);
  const caught = at(Slot.aeroScale);
  let corners = at(Slot.triangles);
  const third = f32x4.splat(1 / 3.0);
  for (let t = 0; t < triangleCount; t++, corners += 12) {
    const share = load<f32>(caught + (<usize>t << 2));
    if (share == 0) continue;
    const a = <usize>load<u32>(corners, 0);
    const b = <usize>load<u32>(corners, 4);
    const c = <usize>load<u32>(corners, 8);
    const wa = load<f32>(masses + (a >> 2));
    const wb = load<f32>(masses + (b >> 2));
    const wc = load<f32>(masses + (c >> 2));
    if (wa + wb + wc == 0) continue;
    const xa = v128.load(x + a);
    const xb = v128.load(x + b);
    const xc = v128.load(x + c);
    const n = cross(f32x4.sub(xb, xa), f32x4.sub(xc, xa));
    const doubleArea: f32 = sqrt<f32>(dot(n, n));
    if (doubleArea < LEAST_DOUBLE_AREA) continue;
    const va = v128.load(v + a);
    const vb = v128.load(v + b);
    const vc = v128.load(v + c);
    let r = f32x4.sub(wind, f32x4.mul(third, f32x4.add(f32x4.add(va, vb), vc)));
    if (isTurbulent) r = f32x4.add(r, sumWaves(f32x4.mul(third, f32x4.add(f32x4.add(xa, xb), xc))));
    const speed: f32 = sqrt<f32>(dot(r, r));
    if (speed == 0) continue;
    const normalSpeed: f32 = dot(r, n) / doubleArea;
    const meeting: f32 = abs<f32>(normalSpeed);
    const pressure: f32 = (share * AIR_DENSITY * doubleArea * meeting) / 12;
    const along: f32 = pressure * (drag - (lift * meeting) / speed);
    const across: f32 = ((normalSpeed < 0 ? <f32>-1 : <f32>1) * pressure * lift * speed) / doubleArea;
    const f = f32x4.add(f32x4.mul(r, f32x4.splat(along)), f32x4.mul(n, f32x4.splat(across)));
    const force: f32 = sqrt<f32>(dot(f, f));
    if (force == 0) continue;
    const most: f32 = mostFactor * doubleArea * speed;
    const step = f32x4.mul(f, f32x4.splat(force > most ? (h * most) / force : h));
    v128.store(pushes + a, f32x4.add(v128.load(pushes + a), f32x4.mul(step, f32x4.splat(wa))));
    v128.store(pushes + b, f32x4.add(v128.load(pushes + b), f32x4.mul(step, f32x4.splat(wb))));
    v128.store(pushes + c, f32x4.add(v128.load(pushes + c), f32x4.mul(step, f32x4.splat(wc))));
  }
}

function hasWaves(): bool {
  const waves = at(Slot.waves);
  for (let w = 0; w < WAVE_COUNT; w++) {
    if (v128.any_true(f32x4.ne(v128.load(waves + (<usize>w << 5), 16), f32x4.splat(0)))) return true;
  }
  return false;
}

/** Six waves (and two of nothing) at a place, by fours: k · x + phase, one wave to a lane. */
function sumWaves(place: v128): v128 {
  const turned = at(Slot.turnedWaves);
  const px = v128.shuffle<f32>(place, place, 0, 0, 0, 0);
  const py = v128.shuffle<f32>(place, place, 1, 1, 1, 1);
  const pz = v128.shuffle<f32>(place, place, 2, 2, 2, 2);
  const half = f32x4.splat(0.5);
  const eight = f32x4.splat(8);
  const one = f32x4.splat(1);
  let x = f32x4.splat(0);
  let y = f32x4.splat(0);
  let z = f32x4.splat(0);
  for (let o = turned; o < turned + 2 * FOUR_WAVES; o += FOUR_WAVES) {
    const u = f32x4.add(
      f32x4.add(f32x4.add(f32x4.mul(v128.load(o, 0), px), f32x4.mul(v128.load(o, 16), py)), f32x4.mul(v128.load(o, 32), pz)),
      v128.load(o, 48),
    );
    const g = f32x4.sub(f32x4.sub(u, f32x4.floor(u)), half);
    const s = f32x4.mul(f32x4.mul(eight, g), f32x4.sub(one, f32x4.add(f32x4.abs(g), f32x4.abs(g))));
    x = f32x4.add(x, f32x4.mul(s, v128.load(o, 64)));
    y = f32x4.add(y, f32x4.mul(s, v128.load(o, 80)));
    z = f32x4.add(z, f32x4.mul(s, v128.load(o, 96)));
  }
  return f32x4(sumLanes(x), sumLanes(y), sumLanes(z), 0);
}

@inline
function sumLanes(v: v128): f32 {
  const t = f32x4.add(v, v128.shuffle<f32>(v, v, 2, 3, 0, 1));
  return f32x4.extract_lane(t, 0) + f32x4.extract_lane(t, 1);
}

/** Lays the waves out by fours: kx ×4, ky ×4, kz ×4, phases ×4, then amplitudes likewise, and a row of nothing. */
function turnWaves(): void {
  const waves = at(Slot.waves);
  const turned = at(Slot.turnedWaves);
  memory.fill(turned, 0, 2 * FOUR_WAVES);
  for (let w = 0; w < WAVE_COUNT; w++) {
    const from = waves + (<usize>w << 5);
    const to = turned + <usize>(w >> 2) * FOUR_WAVES + (<usize>(w & 3) << 2);
    for (let k: usize = 0; k < 8; k++) store<f32>(to + (k << 4), load<f32>(from + (k << 2)));
  }
}
