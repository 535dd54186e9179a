import type { CompiledGarment } from '../compiled-garment.ts';

/** kg/m³ at 15 °C. */
const AIR_DENSITY = 1.225;

/**
 * Pressure of the air on each triangle, once a frame: F = ½ ρ c A |u_n| u_n along the normal, where u_n is the
 * normal part of the air's velocity relative to the triangle. A face that meets the air is pushed, one that
 * slips through it edge on is not; this gives both drag and lift. Never more than what stops the relative
 * motion, so that it cannot add energy at any time step.
 *
 * @param v - Velocities, [n, 4], changed. @param wind - m/s. @param seconds - Length of the frame.
 */
export function applyAir(
  garment: CompiledGarment,
  x: Float32Array,
  v: Float32Array,
  wind: readonly [number, number, number],
  drag: number,
  seconds: number,
): void {
  if (!(drag > 0)) return;
  const { triangles } = garment;
  for (let t = 0; t < triangles.length; t += 3) {
    const a = 4 * triangles[t]!;
    const b = 4 * triangles[t + 1]!;
    const c = 4 * triangles[t + 2]!;
    const inverseMass = (x[a + 3]! + x[b + 3]! + x[c + 3]!) / 3;
    if (inverseMass === 0) continue;
    const ux = x[b]! - x[a]!;
    const uy = x[b + 1]! - x[a + 1]!;
    const uz = x[b + 2]! - x[a + 2]!;
    const wx = x[c]! - x[a]!;
    const wy = x[c + 1]! - x[a + 1]!;
    const wz = x[c + 2]! - x[a + 2]!;
    const nx = uy * wz - uz * wy;
    const ny = uz * wx - ux * wz;
    const nz = ux * wy - uy * wx;
    const doubleArea = Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (doubleArea < 1e-12) continue;
    const rx = wind[0] - (v[a]! + v[b]! + v[c]!) / 3;
    const ry = wind[1] - (v[a + 1]! + v[b + 1]! + v[c + 1]!) / 3;
    const rz = wind[2] - (v[a + 2]! + v[b + 2]! + v[c + 2]!) / 3;
    const normalSpeed = (rx * nx + ry * ny + rz * nz) / doubleArea;
    const force = 0.25 * AIR_DENSITY * drag * doubleArea * Math.abs(normalSpeed) * normalSpeed;
    // Each corner takes a third. It also feels its other triangles, six of them on an even mesh.
    const most = Math.abs(normalSpeed) / 6;
    for (const i of [a, b, c]) {
      const w = x[i + 3]!;
      if (w === 0) continue;
      const change = Math.max(-most, Math.min(most, (force / 3) * w * seconds)) / doubleArea;
      v[i] = v[i]! + change * nx;
      v[i + 1] = v[i + 1]! + change * ny;
      v[i + 2] = v[i + 2]! + change * nz;
    }
  }
}
