import { distanceBetween, findPrincipalAxes, type MutableVector3 } from '../math/index.ts';

const ROUNDS = 60;

/**
 * The ball whose surface is nearest to points, by least squares of their distance from it.
 *
 * @param points - [n, 3] m, at least one.
 * Each round moves the middle to where the points would see it from one distance; it settles where the sum is least.
 * Reference: D. Eberly, *Least squares fitting of data by linear or quadratic structures*, section on spheres (fixed-point form).
 */
export function fitSphere(points: Float32Array): { centre: MutableVector3; radius: number } {
  const count = points.length / 3;
  const { middle } = findPrincipalAxes(points);
  let centre = middle;
  let radius = 0;
  for (let round = 0; round < ROUNDS; round++) {
    radius = 0;
    const pull: MutableVector3 = [0, 0, 0];
    for (let i = 0; i < points.length; i += 3) {
      const place: MutableVector3 = [points[i]!, points[i + 1]!, points[i + 2]!];
      const length = distanceBetween(centre, place);
      radius += length / count;
      if (length === 0) continue;
      for (let k = 0; k < 3; k++) pull[k] = pull[k]! + (centre[k]! - place[k]!) / length / count;
    }
    centre = [middle[0] + radius * pull[0], middle[1] + radius * pull[1], middle[2] + radius * pull[2]];
  }
  return { centre, radius };
}
