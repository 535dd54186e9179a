import { packGrey } from '../../formats/png/map-png.ts';

/** Grey levels of a texture: few, so that it packs well. */
const LEVELS = 40;

/** How bright a cloth is at a place of its UVs, 0 to 1; the colour of its vertices is multiplied by it. */
export type Shade = (u: number, v: number) => number;

/** A grey picture of a shade as PNG. @param size - Picture elements across. */
export function paintTexture(size: number, shade: Shade): Uint8Array {
  const values = new Float32Array(size * size);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) values[y * size + x] = shade((x + 0.5) / size, (y + 0.5) / size);
  return packLevels(size, values);
}

/** A grey picture as PNG. @param values - Dark to light, 0 to 1. [size, size] */
export function packLevels(size: number, values: Float32Array): Uint8Array {
  const levels = Uint8Array.from(values, (value) =>
    Math.round((Math.round(Math.max(0, Math.min(1, value)) * LEVELS) / LEVELS) * 255),
  );
  return packGrey(size, 8, levels);
}

/** Smooth noise between 0 and 1 that repeats after `cells` in both directions. @param seed - Any whole number. */
export function createNoise(cells: number, seed: number): Shade {
  const at = (x: number, y: number): number => {
    let h = Math.imul((x % cells) + 374761 * ((y % cells) + 1), 668265263) ^ Math.imul(seed + 1, 2246822519);
    h = Math.imul(h ^ (h >>> 13), 1274126177);
    return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32;
  };
  const ease = (t: number): number => t * t * (3 - 2 * t);
  return (u, v) => {
    const [x, y] = [(((u % 1) + 1) % 1) * cells, (((v % 1) + 1) % 1) * cells];
    const [i, j] = [Math.floor(x), Math.floor(y)];
    const [s, t] = [ease(x - i), ease(y - j)];
    const upper = at(i, j) + s * (at(i + 1, j) - at(i, j));
    const lower = at(i, j + 1) + s * (at(i + 1, j + 1) - at(i, j + 1));
    return upper + t * (lower - upper);
  };
}
