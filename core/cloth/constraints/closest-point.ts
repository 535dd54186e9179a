import { writeClosestWeights } from '../../math/index.ts';

/** Closest point on a triangle: barycentric weights of b and c, and the squared way there, m². */
interface ClosestPoint {
  b: number;
  c: number;
  squared: number;
}

/** What `writeClosest` found last. */
export const closestPoint: ClosestPoint = { b: 0, c: 0, squared: 0 };

/**
 * The closest point of a triangle a, a + u, a + w to a + q.
 *
 * Reference: C. Ericson, *Real-Time Collision Detection*, Morgan Kaufmann 2005, §5.1.5.
 */
export function writeClosest(
  ux: number,
  uy: number,
  uz: number,
  wx: number,
  wy: number,
  wz: number,
  qx: number,
  qy: number,
  qz: number,
): void {
  const uu = ux * ux + uy * uy + uz * uz;
  const uw = ux * wx + uy * wy + uz * wz;
  const ww = wx * wx + wy * wy + wz * wz;
  const d1 = ux * qx + uy * qy + uz * qz;
  const d2 = wx * qx + wy * qy + wz * qz;
  writeClosestWeights(uu, uw, ww, d1, d2, closestPoint);
  const ex = qx - closestPoint.b * ux - closestPoint.c * wx;
  const ey = qy - closestPoint.b * uy - closestPoint.c * wy;
  const ez = qz - closestPoint.b * uz - closestPoint.c * wz;
  closestPoint.squared = ex * ex + ey * ey + ez * ez;
}
