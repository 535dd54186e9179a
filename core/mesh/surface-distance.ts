import { checkLength } from '../math/index.ts';
import { SurfaceFront } from './surface-front.ts';

export interface SurfaceDistance {
  /** Metres along the surface to the nearest source; Infinity where none can be reached. [n] */
  distances: Float32Array;
  /** Which source that is, -1 where none can be reached. [n] */
  sources: Int32Array;
}

/**
 * Distance along a surface from every point to the nearest of several source points, and which one it is, see
 * `SurfaceFront`.
 *
 * @param positions - [n, stride], xyz first, metres. @param triangles - [t, 3].
 * @param isSource - [n], non-zero for sources.
 * O(n log n).
 */
export function computeSurfaceDistance(
  positions: Float32Array,
  triangles: Uint32Array,
  isSource: Uint8Array,
  stride = 3,
): SurfaceDistance {
  const pointCount = isSource.length;
  if (positions.length < stride * pointCount) checkLength('positions', positions, stride * pointCount);
  const front = new SurfaceFront(triangles, pointCount);
  const seeds = Array.from(isSource.keys())
    .filter((point) => isSource[point])
    .map((point) => ({ point, distance: 0, source: point }));
  front.walk(positions, stride, seeds);
  return { distances: Float32Array.from(front.distances), sources: front.sources };
}
