import type { Surface } from '../mesh/index.ts';

/** A surface as one row of numbers, to be kept beside its step: counts of points and triangles, places, corners. */
export function packSurface({ positions, triangles }: Surface): Float32Array {
  const packed = new Float32Array(2 + positions.length + triangles.length);
  packed.set([positions.length / 3, triangles.length / 3]);
  packed.set(positions, 2);
  // Whole numbers up to 2^24 are exact in this precision.
  packed.set(triangles, 2 + positions.length);
  return packed;
}

/** @returns null when the numbers are not those of a surface. */
export function unpackSurface(packed: Float32Array | undefined): Surface | null {
  if (!packed || packed.length < 2) return null;
  const [points, faces] = [packed[0]!, packed[1]!];
  if (packed.length !== 2 + 3 * points + 3 * faces) return null;
  const triangles = Uint32Array.from(packed.subarray(2 + 3 * points));
  if (triangles.some((corner) => corner >= points)) return null;
  return { positions: packed.slice(2, 2 + 3 * points), triangles };
}
