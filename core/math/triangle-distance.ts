import { writeClosestWeights } from './closest-weights.ts';

const weights = { b: 0, c: 0 };

/**
 * Square of the distance of a place from a triangle, m².
 * @param v - xyz rows. @param a, b, c - Where the rows of the corners begin.
 */
export function squaredToTriangle(
  v: ArrayLike<number>,
  [a, b, c]: readonly [number, number, number],
  x: number,
  y: number,
  z: number,
): number {
  const [ux, uy, uz] = [v[b]! - v[a]!, v[b + 1]! - v[a + 1]!, v[b + 2]! - v[a + 2]!];
  const [wx, wy, wz] = [v[c]! - v[a]!, v[c + 1]! - v[a + 1]!, v[c + 2]! - v[a + 2]!];
  const [qx, qy, qz] = [x - v[a]!, y - v[a + 1]!, z - v[a + 2]!];
  writeClosestWeights(
    ux * ux + uy * uy + uz * uz,
    ux * wx + uy * wy + uz * wz,
    wx * wx + wy * wy + wz * wz,
    ux * qx + uy * qy + uz * qz,
    wx * qx + wy * qy + wz * qz,
    weights,
  );
  const dx = qx - weights.b * ux - weights.c * wx;
  const dy = qy - weights.b * uy - weights.c * wy;
  const dz = qz - weights.b * uz - weights.c * wz;
  return dx * dx + dy * dy + dz * dz;
}
