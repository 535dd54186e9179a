import { packGrey } from '../../formats/png/map-png.ts';

/** Picture elements across a texture, and its grey levels: few, so that it packs well. */
const SIZE = 512;
const LEVELS = 40;

/** How bright a cloth is at a place of its UVs, 0 to 1; the colour of its vertices is multiplied by it. */
export type Shade = (u: number, v: number) => number;

/** A grey picture of a shade as PNG. */
export function paintTexture(shade: Shade): Uint8Array {
  const levels = new Uint8Array(SIZE * SIZE);
  for (let y = 0; y < SIZE; y++) {
    for (let x = 0; x < SIZE; x++) {
      const value = Math.max(0, Math.min(1, shade((x + 0.5) / SIZE, (y + 0.5) / SIZE)));
      levels[y * SIZE + x] = Math.round((Math.round(value * LEVELS) / LEVELS) * 255);
    }
  }
  return packGrey(SIZE, 8, levels);
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
