import { weldNear } from './weld-near.ts';
import { weldPoints, weldTriangles } from './weld-points.ts';

/**
 * Puts vertices that lie together but for rounding in the very same place, that of the first of them, so that all that counts
 * points from here on finds the same ones. Ours.
 *
 * @param positions - [n, 3], changed. @returns How many were moved.
 */
export function joinNearVertices(positions: Float32Array, triangles: Uint32Array): number {
  const { pointOfVertex, vertexOfPoint, pointCount } = weldPoints(positions);
  const places = new Float32Array(3 * pointCount);
  vertexOfPoint.forEach((vertex, point) => {
    places.set(positions.subarray(3 * vertex, 3 * vertex + 3), 3 * point);
  });
  const { first, count } = weldNear({
    positions: places,
    triangles: weldTriangles(triangles, pointOfVertex),
  });
  if (count === 0) return 0;
  let moved = 0;
  pointOfVertex.forEach((point, vertex) => {
    const to = first[point]!;
    if (to === point) return;
    positions.set(places.subarray(3 * to, 3 * to + 3), 3 * vertex);
    moved++;
  });
  return moved;
}
