import { rotate, type Vector3 } from '../math/index.ts';
import type { BoxShape } from './collision-shape.ts';

/** The eight corners of a box in its joint's space, [8, 3] m. */
export function listBoxCorners({
  centre,
  rotation,
  halfSize,
}: Pick<BoxShape, 'centre' | 'rotation' | 'halfSize'>): Float32Array {
  const corners = new Float32Array(24);
  for (let corner = 0; corner < 8; corner++) {
    const local = halfSize.map((half, k) => ((corner >> k) & 1 ? half : -half)) as [number, number, number];
    const turned: Vector3 = rotate(rotation, local);
    for (let c = 0; c < 3; c++) corners[3 * corner + c] = centre[c]! + turned[c]!;
  }
  return corners;
}
