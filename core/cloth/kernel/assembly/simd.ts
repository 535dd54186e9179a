import { HEADER, Slot } from './layout';

/** Small helpers that are always inlined. */

@inline
export function at(slot: i32): usize {
  return <usize>load<u32>(HEADER + (slot << 2));
}

@inline
export function count(slot: i32): i32 {
  return load<i32>(HEADER + (slot << 2));
}

@inline
export function number(slot: i32): f32 {
  return load<f32>(HEADER + (slot << 2));
}

/** Adds to what was counted of one kind of work. */
@inline
export function addWork(kind: i32, amount: i32): void {
  const place = at(Slot.work) + (<usize>kind << 3);
  store<f64>(place, load<f64>(place) + <f64>amount);
}

@inline
export function splat(x: f32): v128 {
  return f32x4.splat(x);
}

/** a.yzx */
@inline
function yzx(a: v128): v128 {
  return v128.shuffle<f32>(a, a, 1, 2, 0, 3);
}

@inline
function zxy(a: v128): v128 {
  return v128.shuffle<f32>(a, a, 2, 0, 1, 3);
}

@inline
export function cross(a: v128, b: v128): v128 {
  return f32x4.sub(f32x4.mul(yzx(a), zxy(b)), f32x4.mul(zxy(a), yzx(b)));
}

/** Sum of the first three lanes of a · b. */
@inline
export function dot(a: v128, b: v128): f32 {
  const t = f32x4.mul(a, b);
  return f32x4.extract_lane(t, 0) + f32x4.extract_lane(t, 1) + f32x4.extract_lane(t, 2);
}

@inline
export function storeXyz(row: usize, value: v128): void {
  v128.store(row, value);
}

@external("env", "now")
export declare function now(): f64;

/** One coordinate of four rows. */
@inline
export function turnX(r0: v128, r1: v128, r2: v128, r3: v128): v128 {
  return v128.shuffle<f32>(v128.shuffle<f32>(r0, r1, 0, 4, 1, 5), v128.shuffle<f32>(r2, r3, 0, 4, 1, 5), 0, 1, 4, 5);
}

@inline
export function turnY(r0: v128, r1: v128, r2: v128, r3: v128): v128 {
  return v128.shuffle<f32>(v128.shuffle<f32>(r0, r1, 0, 4, 1, 5), v128.shuffle<f32>(r2, r3, 0, 4, 1, 5), 2, 3, 6, 7);
}

@inline
export function turnZ(r0: v128, r1: v128, r2: v128, r3: v128): v128 {
  return v128.shuffle<f32>(v128.shuffle<f32>(r0, r1, 2, 6, 3, 7), v128.shuffle<f32>(r2, r3, 2, 6, 3, 7), 0, 1, 4, 5);
}

/** Four rows by coordinate: x x x x y y y y z z z z. */
@inline
export function storeTurned(out: usize, r0: v128, r1: v128, r2: v128, r3: v128): void {
  v128.store(out, turnX(r0, r1, r2, r3), 0);
  v128.store(out, turnY(r0, r1, r2, r3), 16);
  v128.store(out, turnZ(r0, r1, r2, r3), 32);
}

/** Three rows by their shares. */
@inline
export function mix(a: v128, b: v128, c: v128, fa: f32, fb: f32, fc: f32): v128 {
  return f32x4.add(
    f32x4.mul(a, f32x4.splat(fa)),
    f32x4.add(f32x4.mul(b, f32x4.splat(fb)), f32x4.mul(c, f32x4.splat(fc))),
  );
}
