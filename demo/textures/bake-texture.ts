import type { Section } from '../../core/rig/index.ts';
import { packLevels } from './paint-texture.ts';

/** How bright a surface is at a place, 0 to 1. @param position - m. @param normal - Of unit length. */
export type SurfaceShade = (position: readonly number[], normal: readonly number[]) => number;

/** Picture elements around a chart that take its colour, so that none of the ground shows at its borders. */
const GUTTER = 4;

/** A grey picture of a surface over its UVs as PNG. @param size - Picture elements across. */
export function bakeTexture(section: Section, size: number, shade: SurfaceShade): Uint8Array {
  const values = new Float32Array(size * size).fill(Number.NaN);
  for (let t = 0; t < section.triangles.length; t += 3) bakeTriangle(section, t, size, shade, values);
  for (let pass = 0; pass < GUTTER; pass++) widen(values, size);
  return packLevels(
    size,
    values.map((value) => (Number.isNaN(value) ? 0.8 : value)),
  );
}

function bakeTriangle(
  { triangles, uvs, positions, normals }: Section,
  t: number,
  size: number,
  shade: SurfaceShade,
  values: Float32Array,
): void {
  const corners = [0, 1, 2].map((k) => triangles[t + k]!);
  const x = corners.map((v) => size * uvs![2 * v]! - 0.5);
  const y = corners.map((v) => size * uvs![2 * v + 1]! - 0.5);
  const area = (x[1]! - x[0]!) * (y[2]! - y[0]!) - (x[2]! - x[0]!) * (y[1]! - y[0]!);
  if (area === 0) return;
  const at = (values: Float32Array, w: readonly number[], k: number): number =>
    corners.reduce((sum, v, c) => sum + w[c]! * values[3 * v + k]!, 0);
  for (let j = Math.max(0, Math.ceil(Math.min(...y))); j <= Math.min(size - 1, Math.max(...y)); j++) {
    for (let i = Math.max(0, Math.ceil(Math.min(...x))); i <= Math.min(size - 1, Math.max(...x)); i++) {
      const second = ((i - x[0]!) * (y[2]! - y[0]!) - (x[2]! - x[0]!) * (j - y[0]!)) / area;
      const third = ((x[1]! - x[0]!) * (j - y[0]!) - (i - x[0]!) * (y[1]! - y[0]!)) / area;
      const weights = [1 - second - third, second, third];
      if (weights.some((weight) => weight < -1e-6)) continue;
      const normal = [0, 1, 2].map((k) => at(normals, weights, k));
      const length = Math.hypot(...normal) || 1;
      values[j * size + i] = shade(
        [0, 1, 2].map((k) => at(positions, weights, k)),
        normal.map((part) => part / length),
      );
    }
  }
}

/** Gives picture elements beside what is known the mean of it. */
function widen(values: Float32Array, size: number): void {
  const before = values.slice();
  for (let j = 0; j < size; j++) {
    for (let i = 0; i < size; i++) {
      if (!Number.isNaN(before[j * size + i]!)) continue;
      let [sum, count] = [0, 0];
      for (const [di, dj] of [
        [-1, 0],
        [1, 0],
        [0, -1],
        [0, 1],
      ] as const) {
        if (i + di < 0 || i + di >= size || j + dj < 0 || j + dj >= size) continue;
        const value = before[(j + dj) * size + i + di]!;
        if (Number.isNaN(value)) continue;
        sum += value;
        count++;
      }
      if (count > 0) values[j * size + i] = sum / count;
    }
  }
}
