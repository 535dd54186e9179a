import { smoothMin } from './distance.ts';

/** Distance to the brimmed hat. */
export function measureHat(x: number, y: number, z: number): number {
  const d = smoothMin(measureCrown(x, y, z), measureBrim(x, y, z), 0.03);
  return smoothMin(d, measureBand(x, y, z), 0.004);
}

/** Crown: a tapered capsule, flattened at the sides, above the brim only; hollow below is hidden by the head. */
function measureCrown(x: number, y: number, z: number): number {
  const px = x / 0.93;
  const pz = -0.013 + (z + 0.013) / 1.12;
  const t = Math.max(0, Math.min(1, (y - 1.715) / 0.041));
  const radius = 0.107 - 0.019 * t;
  // A shallow crease along the top.
  const crease = 0.012 * Math.exp(-((x / 0.03) ** 2)) * Math.max(0, (y - 1.79) / 0.05);
  const d = Math.hypot(px, y - 1.715 - 0.041 * t, pz + 0.012 + 0.002 * t) - radius + crease;
  return Math.max(d * 0.93, 1.69 - y);
}

function measureBrim(x: number, y: number, z: number): number {
  const fromAxis = Math.hypot(x, z + 0.012);
  const beyond = Math.max(0, fromAxis - 0.1);
  const height = 1.694 - 0.22 * beyond + 0.9 * beyond * beyond + 0.32 * Math.abs(x) * beyond;
  const flat = Math.abs(y - height) * 0.94 - 0.006;
  return Math.max(flat, fromAxis - 0.2 + 0.003, 0.07 - fromAxis);
}

function measureBand(x: number, y: number, z: number): number {
  return Math.max(measureCrown(x, y, z) - 0.004, Math.abs(y - 1.712) - 0.012);
}
