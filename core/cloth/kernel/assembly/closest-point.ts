import { dot } from './simd';

// What `writeClosest` found last: barycentric weights of b and c, the way from the foot, and its square.
export let closestB: f32 = 0;
export let closestC: f32 = 0;
export let closestSquared: f32 = 0;
export let footDisplacement: v128 = f32x4.splat(0);

/** The closest point of a triangle a, a + u, a + w to a + q, see `constraints/closest-point.ts`. */
export function writeClosest(u: v128, w: v128, q: v128): void {
  writeBarycentric(dot(u, u), dot(u, w), dot(w, w), dot(u, q), dot(w, q));
  const e = f32x4.sub(f32x4.sub(q, f32x4.mul(f32x4.splat(closestB), u)), f32x4.mul(f32x4.splat(closestC), w));
  footDisplacement = e;
  closestSquared = dot(e, e);
}

function writeBarycentric(uu: f32, uw: f32, ww: f32, d1: f32, d2: f32): void {
  const d3: f32 = d1 - uu;
  const d4: f32 = d2 - uw;
  const d5: f32 = d1 - uw;
  const d6: f32 = d2 - ww;
  closestB = 0;
  closestC = 0;
  if (d1 <= 0 && d2 <= 0) return;
  if (d3 >= 0 && d4 <= d3) {
    closestB = 1;
    return;
  }
  const vc: f32 = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) {
    closestB = d1 == d3 ? 0 : d1 / (d1 - d3);
    return;
  }
  if (d6 >= 0 && d5 <= d6) {
    closestC = 1;
    return;
  }
  const vb: f32 = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) {
    closestC = d2 == d6 ? 0 : d2 / (d2 - d6);
    return;
  }
  const va: f32 = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    const total: f32 = d4 - d3 + (d5 - d6);
    const w: f32 = total == 0 ? 0 : (d4 - d3) / total;
    closestB = 1 - w;
    closestC = w;
    return;
  }
  const sum: f32 = va + vb + vc;
  closestB = sum == 0 ? 0 : vb / sum;
  closestC = sum == 0 ? 0 : vc / sum;
}
