import { createNoise, type Shade } from './paint-texture.ts';

/** A dark line with a row of stitches on both sides, along v at a place of u. 1 beside it. */
function seam(distance: number, along: number, width: number, stitches: number): number {
  const away = Math.abs(distance);
  if (away < 0.16 * width) return 0.62;
  const isStitch = Math.abs(away - 0.6 * width) < 0.12 * width && (along * stitches) % 1 < 0.62;
  if (isStitch) return 1.12;
  return away < width ? 0.93 : 1;
}

/** How far a place is from the nearest multiple of a step. */
function toNearest(value: number, step: number): number {
  return value - step * Math.round(value / step);
}

/** A patch that was sewn on: darker or lighter, with stitches around. 1 beside it. */
function patch(u: number, v: number, at: readonly [number, number, number, number], shade: number): number {
  const [left, top, width, height] = at;
  const inside = Math.min(u - left, left + width - u, v - top, top + height - v);
  if (inside < 0) return 1;
  if (inside < 0.0035) return 0.68;
  const isStitch = inside > 0.007 && inside < 0.0105 && ((u + v) * 90) % 1 < 0.6;
  return isStitch ? 1.15 : shade;
}

const PATCHES: readonly (readonly [at: readonly [number, number, number, number], shade: number])[] = [
  [[0.07, 0.55, 0.055, 0.13], 0.84],
  [[0.56, 0.38, 0.045, 0.16], 1.1],
  [[0.86, 0.7, 0.06, 0.12], 0.88],
];

/** Oilskin: mottled where it was waxed, four seams from neck to hem, patches, and a tide mark of salt above the hem. */
export function createOilskin(): Shade {
  const [broad, fine] = [createNoise(9, 3), createNoise(64, 4)];
  return (u, v) => {
    let shade = 0.78 + 0.16 * broad(u, v) + 0.07 * fine(u, v);
    shade *= seam(toNearest(u, 0.25), v, 0.006, 70);
    for (const [at, value] of PATCHES) shade *= patch(u, v, at, value);
    const tide = v - 0.86 - 0.03 * broad(2 * u, 0.3);
    if (tide > 0) shade *= 1.06 - 0.9 * tide;
    if (Math.abs(tide) < 0.006) shade *= 1.1;
    return shade;
  };
}

/** Wool in twill: slanted ribs, and a woven border at the end. @param ribs - Across the width. */
export function createTwill(ribs: number, length: number): Shade {
  const uneven = createNoise(40, 7);
  return (u, v) => {
    const rib = Math.sin(2 * Math.PI * (ribs * u + ribs * length * v));
    let shade = 0.82 + 0.1 * rib + 0.1 * uneven(u, v);
    const fromEnd = 1 - v;
    if (fromEnd > 0.04 && fromEnd < 0.055) shade *= 0.5;
    if (fromEnd > 0.075 && fromEnd < 0.13) {
      const zigzag = Math.abs(((u * 8) % 1) - 0.5) * 2;
      shade *= Math.abs((fromEnd - 0.0775) / 0.05 - zigzag) < 0.22 ? 0.45 : 1;
    }
    if (fromEnd > 0.15 && fromEnd < 0.165) shade *= 0.5;
    return shade * (Math.min(u, 1 - u) < 0.015 ? 0.75 : 1);
  };
}

/** Linen or canvas: over and under. @param threads - Across and down. @param seams - How many run from top to bottom. */
export function createPlainWeave(threads: readonly [number, number], seams: number, seed: number): Shade {
  const [slubs, broad] = [createNoise(96, seed), createNoise(7, seed + 1)];
  return (u, v) => {
    const warp = Math.sin(2 * Math.PI * threads[0] * u);
    const weft = Math.sin(2 * Math.PI * threads[1] * v);
    let shade = 0.84 + 0.06 * warp * weft + 0.1 * slubs(u, 0.25 * v) + 0.08 * (broad(u, v) - 0.5);
    if (seams > 0) shade *= seam(toNearest(u, 1 / seams), v, 0.007, 60);
    // Hem, folded over.
    if (v > 0.955) shade *= Math.abs(v - 0.958) < 0.003 ? 0.7 : 0.95;
    return shade;
  };
}

/** Leather: grain, darker in the folds, worn light along its edges, with a line of stitches inside them. */
export function createLeather(): Shade {
  const [grain, broad, scuffs] = [createNoise(120, 11), createNoise(6, 12), createNoise(28, 13)];
  return (u, v) => {
    const edge = Math.min(u, 1 - u, v, 1 - v);
    let shade = 0.68 + 0.14 * grain(u, v) + 0.2 * broad(u, v);
    if (edge < 0.03) shade += 0.25 * (1 - edge / 0.03) * scuffs(u, v);
    const isStitch = Math.abs(edge - 0.038) < 0.0028 && ((u + v) * 64) % 1 < 0.6;
    if (isStitch) shade = 0.98;
    // Rubbed at the lap, where tools lie.
    const lap = Math.hypot((u - 0.5) / 0.3, (v - 0.35) / 0.25);
    if (lap < 1) shade += 0.12 * (1 - lap) * scuffs(2 * u, 2 * v);
    return shade;
  };
}
