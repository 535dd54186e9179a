import { buildEdgeTable } from './edge-table.ts';
import { buildNeighbours, type Neighbours } from './neighbours.ts';
import type { Surface } from './surface.ts';
import { weldPoints, weldTriangles } from './weld-points.ts';

/** Neighbours of the points (vertices that share a place are one) of a mesh. O(n). */
export function buildPointNeighbours({ positions, triangles }: Surface): Neighbours {
  const { pointOfVertex, pointCount } = weldPoints(positions);
  return buildNeighbours(buildEdgeTable(weldTriangles(triangles, pointOfVertex), pointCount), pointCount);
}
