import { SpatialIndex } from '../../math/index.ts';
import { buildEdgeTable, NO_TRIANGLE } from '../edge-table.ts';
import type { Surface } from '../surface.ts';
import { distanceToSegment } from './feature-polylines.ts';

/** Ends of the edges on open borders, [b, 2, 3]. */
export function listBorderSegments({ positions, triangles }: Surface): Float32Array {
  const table = buildEdgeTable(triangles, positions.length / 3);
  const ends: number[] = [];
  for (let e = 0; e < table.edgeCount; e++) {
    if (table.triangles[2 * e + 1] !== NO_TRIANGLE) continue;
    for (const point of [table.edges[2 * e]!, table.edges[2 * e + 1]!]) {
      ends.push(...positions.subarray(3 * point, 3 * point + 3));
    }
  }
  return Float32Array.from(ends);
}

/**
 * Greatest distance of some segments, at their ends and middles, from others, m; 0 of none.
 * @param from, to - [s, 2, 3]. @param isMirrored - Of the mirror image about x = 0 of the first.
 */
export function measureFarthest(from: Float32Array, to: Float32Array, isMirrored = false): number {
  // Segments as triangles without width: the index finds the closest of them.
  const index = new SpatialIndex(
    to.slice(),
    Uint32Array.from({ length: to.length / 2 }, (_, i) => 2 * Math.floor(i / 3) + Math.min(1, i % 3)),
  );
  let worst = 0;
  for (let s = 0; s < from.length; s += 6) {
    for (const t of [0, 0.5]) {
      const at = [0, 1, 2].map((k) => from[s + k]! + t * (from[s + 3 + k]! - from[s + k]!)) as [
        number,
        number,
        number,
      ];
      if (isMirrored) at[0] = -at[0];
      const closest = index.findClosest(...at);
      if (!closest) continue;
      const segment = 6 * closest.triangle;
      const distance = distanceToSegment(
        at,
        to.subarray(segment, segment + 3),
        to.subarray(segment + 3, segment + 6),
      );
      worst = Math.max(worst, distance);
    }
  }
  return worst;
}
