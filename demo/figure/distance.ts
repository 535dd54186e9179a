import type { FigurePart } from './figure-parts.ts';

/** A signed distance in metres, negative inside; may be short of the true one, never beyond it by much. */
export type DistanceFunction = (x: number, y: number, z: number) => number;

/** Distance to one part, on the left side as given. */
export function measurePart(part: FigurePart, x: number, y: number, z: number): number {
  const { a, b, ra, rb, scaleX, scaleZ } = part;
  const mx = (a[0] + b[0]) / 2;
  const mz = (a[2] + b[2]) / 2;
  const px = mx + (x - mx) / scaleX;
  const pz = mz + (z - mz) / scaleZ;
  const ax = mx + (a[0] - mx) / scaleX;
  const az = mz + (a[2] - mz) / scaleZ;
  const dx = mx + (b[0] - mx) / scaleX - ax;
  const dy = b[1] - a[1];
  const dz = mz + (b[2] - mz) / scaleZ - az;
  const length = dx * dx + dy * dy + dz * dz;
  let t = length > 0 ? ((px - ax) * dx + (y - a[1]) * dy + (pz - az) * dz) / length : 0;
  t = Math.max(0, Math.min(1, t));
  const ex = px - ax - t * dx;
  const ey = y - a[1] - t * dy;
  const ez = pz - az - t * dz;
  return (Math.sqrt(ex * ex + ey * ey + ez * ez) - (ra + t * (rb - ra))) * Math.min(1, scaleX, scaleZ);
}

/** Cubic smooth minimum: the union of two shapes with a fillet of width `k`. */
export function smoothMin(p: number, q: number, k: number): number {
  const h = Math.max(k - Math.abs(p - q), 0) / k;
  return Math.min(p, q) - (h * h * h * k) / 6;
}

/** Unit gradient of a distance by central differences: the outward normal. */
export function gradient(
  distance: DistanceFunction,
  x: number,
  y: number,
  z: number,
  step = 1e-3,
): [number, number, number] {
  const gx = distance(x + step, y, z) - distance(x - step, y, z);
  const gy = distance(x, y + step, z) - distance(x, y - step, z);
  const gz = distance(x, y, z + step) - distance(x, y, z - step);
  const length = Math.sqrt(gx * gx + gy * gy + gz * gz) || 1;
  return [gx / length, gy / length, gz / length];
}
