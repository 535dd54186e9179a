import { Slot } from './layout';
import { at, count, cross, dot, number } from './simd';

const LEAST_SUM: f32 = 1e-3;

/** Bending as a filter of the predicted places, see `constraints/bend.ts`. */
export function solveBend(): void {
  const predicted = at(Slot.predicted);
  const positions = at(Slot.positions);
  const bytes = <usize>count(Slot.rowCount) << 4;
  const steps = count(Slot.bendSteps);
  if (steps == 0) {
    memory.copy(positions, predicted, bytes);
    return;
  }
  if (steps == 1) {
    bendOnce(predicted, positions);
    return;
  }
  const places = at(Slot.bendPositions);
  const coefficients = at(Slot.bendCoefficients);
  let before = predicted;
  let now = predicted;
  for (let k = 0; k < steps; k++) {
    const out = places + (k & 1 ? bytes : 0);
    bendRows(before, now, out, load<f32>(coefficients + (k << 3)), load<f32>(coefficients + (k << 3), 4));
    before = now;
    now = out;
  }
  const rest = f32x4.splat(1 - number(Slot.bendMean));
  for (let o: usize = 0; o < bytes; o += 16) {
    const p = v128.load(predicted + o);
    v128.store(positions + o, f32x4.add(p, f32x4.mul(rest, f32x4.sub(v128.load(now + o), p))));
  }
}

/** out = in + rest + Σ factor (in_j - in_i). */
function bendOnce(from: usize, out: usize): void {
  const pointCount = count(Slot.pointCount);
  const start = at(Slot.bendStart);
  let rest = at(Slot.bendRest);
  let columns = at(Slot.bendColumns);
  let values = at(Slot.bendValues);
  let row = from;
  let to = out;
  let begin = load<u32>(start);
  for (let i = 0; i < pointCount; i++) {
    const end = load<u32>(start + (<usize>(i + 1) << 2));
    const p = v128.load(row);
    let s = v128.load(rest);
    let t = f32x4.splat(0);
    for (let k = begin; k < end; k += 4) {
      s = f32x4.add(s, f32x4.mul(v128.load32_splat(values, 0), f32x4.sub(v128.load(from + <usize>load<u32>(columns, 0)), p)));
      t = f32x4.add(t, f32x4.mul(v128.load32_splat(values, 4), f32x4.sub(v128.load(from + <usize>load<u32>(columns, 4)), p)));
      s = f32x4.add(s, f32x4.mul(v128.load32_splat(values, 8), f32x4.sub(v128.load(from + <usize>load<u32>(columns, 8)), p)));
      t = f32x4.add(t, f32x4.mul(v128.load32_splat(values, 12), f32x4.sub(v128.load(from + <usize>load<u32>(columns, 12)), p)));
      columns += 16;
      values += 16;
    }
    v128.store(to, f32x4.add(p, f32x4.add(s, t)));
    begin = end;
    row += 16;
    rest += 16;
    to += 16;
  }
  memory.copy(to, row, <usize>(count(Slot.rowCount) - pointCount) << 4);
}

/** out = μ now + (1 - μ) before + c (rest + Σ factor (now_j - now_i)). */
function bendRows(before: usize, now: usize, out: usize, mu: f32, c: f32): void {
  const pointCount = count(Slot.pointCount);
  const start = at(Slot.bendStart);
  const rest = at(Slot.bendRest);
  let columns = at(Slot.bendColumns);
  let values = at(Slot.bendValues);
  const left = f32x4.splat(1 - mu);
  const scale = f32x4.splat(c);
  let begin = load<u32>(start);
  for (let i = 0; i < pointCount; i++) {
    const o = <usize>i << 4;
    const end = load<u32>(start + (<usize>(i + 1) << 2));
    const p = v128.load(now + o);
    let s = v128.load(rest + o);
    let t = f32x4.splat(0);
    for (let k = begin; k < end; k += 4) {
      s = f32x4.add(s, f32x4.mul(v128.load32_splat(values, 0), f32x4.sub(v128.load(now + <usize>load<u32>(columns, 0)), p)));
      t = f32x4.add(t, f32x4.mul(v128.load32_splat(values, 4), f32x4.sub(v128.load(now + <usize>load<u32>(columns, 4)), p)));
      s = f32x4.add(s, f32x4.mul(v128.load32_splat(values, 8), f32x4.sub(v128.load(now + <usize>load<u32>(columns, 8)), p)));
      t = f32x4.add(t, f32x4.mul(v128.load32_splat(values, 12), f32x4.sub(v128.load(now + <usize>load<u32>(columns, 12)), p)));
      columns += 16;
      values += 16;
    }
    begin = end;
    const kept = f32x4.add(p, f32x4.mul(left, f32x4.sub(v128.load(before + o), p)));
    v128.store(out + o, f32x4.add(kept, f32x4.mul(scale, f32x4.add(s, t))));
  }
  const done = <usize>pointCount << 4;
  memory.copy(out + done, now + done, <usize>(count(Slot.rowCount) - pointCount) << 4);
}

/** The part of the bending that rests, once a frame, see `constraints/bend.ts`. */
export function updateFolds(): void {
  const x = at(Slot.positions);
  const rest = at(Slot.bendRest);
  memory.fill(rest, 0, <usize>count(Slot.rowCount) << 4);
  const memoryShare = number(Slot.foldMemory);
  const plasticYieldAngle = number(Slot.plasticYieldAngle);
  const yields = plasticYieldAngle < 1;
  if (memoryShare == 0 && !yields) return;
  const hingeCount = count(Slot.hingeCount);
  const quads = at(Slot.hingeQuads);
  const weights = at(Slot.hingeWeights);
  const curvatures = at(Slot.hingeCurvatures);
  const doubleLengths = at(Slot.hingeDoubleLengths);
  const inverseAreas = at(Slot.hingeInverseAreas);
  const shares = at(Slot.foldShares);
  for (let q = 0; q < hingeCount; q++) {
    let curvature = load<f32>(curvatures + (<usize>q << 2));
    if (curvature == 0 && !yields) continue;
    const o = <usize>q << 4;
    const a = <usize>load<u32>(quads + o, 0);
    const b = <usize>load<u32>(quads + o, 4);
    const c = <usize>load<u32>(quads + o, 8);
    const d = <usize>load<u32>(quads + o, 12);
    const xa = v128.load(x + a);
    const e = f32x4.sub(v128.load(x + b), xa);
    const f = f32x4.sub(v128.load(x + c), xa);
    const g = f32x4.sub(v128.load(x + d), xa);
    const n = cross(
      e,
      f32x4.sub(
        f32x4.mul(v128.load32_splat(inverseAreas + (<usize>q << 3), 0), f),
        f32x4.mul(v128.load32_splat(inverseAreas + (<usize>q << 3), 4), g),
      ),
    );
    const sum: f32 = sqrt<f32>(dot(n, n));
    if (sum < LEAST_SUM) continue;
    if (yields) {
      const k = f32x4.add(
        f32x4.add(f32x4.mul(v128.load32_splat(weights + o, 4), e), f32x4.mul(v128.load32_splat(weights + o, 8), f)),
        f32x4.mul(v128.load32_splat(weights + o, 12), g),
      );
      const bent: f32 = dot(k, n) / sum;
      const most: f32 = load<f32>(doubleLengths + (<usize>q << 2)) * plasticYieldAngle;
      curvature = min<f32>(max<f32>(curvature, bent - most), bent + most);
      store<f32>(curvatures + (<usize>q << 2), curvature);
    }
    const push = f32x4.mul(n, f32x4.splat((memoryShare * curvature) / sum));
    const ra = rest + a;
    const rb = rest + b;
    const rc = rest + c;
    const rd = rest + d;
    v128.store(ra, f32x4.add(v128.load(ra), f32x4.mul(push, v128.load32_splat(shares + o, 0))));
    v128.store(rb, f32x4.add(v128.load(rb), f32x4.mul(push, v128.load32_splat(shares + o, 4))));
    v128.store(rc, f32x4.add(v128.load(rc), f32x4.mul(push, v128.load32_splat(shares + o, 8))));
    v128.store(rd, f32x4.add(v128.load(rd), f32x4.mul(push, v128.load32_splat(shares + o, 12))));
  }
}
