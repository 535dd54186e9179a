/**
 * Barycentric weights of the foot of a place in a triangle's plane, and its height above the plane, m. The foot may lie
 * outside the triangle; one without an area counts as its first corner.
 *
 * @param x - [n, stride], xyz first.
 */
export function measureOnTriangle(
  x: Float32Array,
  stride: number,
  corners: readonly number[],
  position: readonly [number, number, number],
): { weights: [number, number, number]; height: number } {
  const [a, b, c] = corners as [number, number, number];
  const ux = x[stride * b]! - x[stride * a]!;
  const uy = x[stride * b + 1]! - x[stride * a + 1]!;
  const uz = x[stride * b + 2]! - x[stride * a + 2]!;
  const wx = x[stride * c]! - x[stride * a]!;
  const wy = x[stride * c + 1]! - x[stride * a + 1]!;
  const wz = x[stride * c + 2]! - x[stride * a + 2]!;
  const qx = position[0] - x[stride * a]!;
  const qy = position[1] - x[stride * a + 1]!;
  const qz = position[2] - x[stride * a + 2]!;
  const uu = ux * ux + uy * uy + uz * uz;
  const uw = ux * wx + uy * wy + uz * wz;
  const ww = wx * wx + wy * wy + wz * wz;
  const uq = ux * qx + uy * qy + uz * qz;
  const wq = wx * qx + wy * qy + wz * qz;
  const determinant = uu * ww - uw * uw;
  if (!(determinant > 0)) return { weights: [1, 0, 0], height: 0 };
  const wb = (ww * uq - uw * wq) / determinant;
  const wc = (uu * wq - uw * uq) / determinant;
  const height =
    ((uy * wz - uz * wy) * qx + (uz * wx - ux * wz) * qy + (ux * wy - uy * wx) * qz) / Math.sqrt(determinant);
  return { weights: [1 - wb - wc, wb, wc], height };
}
