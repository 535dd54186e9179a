/** A value between 0 and 1 at a place, metres. */
export type Solid = (x: number, y: number, z: number) => number;

/**
 * Smooth noise in space, the same on both sides of a UV seam.
 *
 * @param cell - Its grain, m: along x, y and z. @param seed - Any whole number.
 */
export function createSolidNoise([cx, cy, cz]: readonly [number, number, number], seed: number): Solid {
  const at = (i: number, j: number, k: number): number => {
    let h = Math.imul(i, 374761393) ^ Math.imul(j, 668265263) ^ Math.imul(k, 2147483647 - 58);
    h = Math.imul(h ^ Math.imul(seed + 1, 2246822519), 1274126177);
    h = Math.imul(h ^ (h >>> 13), 1103515245);
    return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32;
  };
  return (x, y, z) => {
    const [px, py, pz] = [x / cx, y / cy, z / cz];
    const [i, j, k] = [Math.floor(px), Math.floor(py), Math.floor(pz)];
    const [r, s, t] = [ease(px - i), ease(py - j), ease(pz - k)];
    const along = (dj: number, dk: number): number =>
      mix(at(i, j + dj, k + dk), at(i + 1, j + dj, k + dk), r);
    return mix(mix(along(0, 0), along(1, 0), s), mix(along(0, 1), along(1, 1), s), t);
  };
}

function ease(t: number): number {
  return t * t * (3 - 2 * t);
}

function mix(from: number, to: number, share: number): number {
  return from + share * (to - from);
}
