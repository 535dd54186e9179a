import { percentile, SpatialIndex } from '../../math/index.ts';
import type { Surface } from '../surface.ts';

/** How far a surface is off another that it stands for, m. */
export interface SurfaceDeviation {
  mean: number;
  p95: number;
  most: number;
}

/** Distances of the points of a source from the surface that stands for it. About O(n log n). */
export function measureDeviation(made: Surface, source: Surface): SurfaceDeviation {
  const index = new SpatialIndex(made.positions.slice(), made.triangles);
  const distances: number[] = [];
  for (let i = 0; i < source.positions.length; i += 3) {
    const [x, y, z] = [source.positions[i]!, source.positions[i + 1]!, source.positions[i + 2]!];
    distances.push(index.findClosest(x, y, z)?.distance ?? Number.POSITIVE_INFINITY);
  }
  return {
    mean: distances.reduce((sum, value) => sum + value, 0) / Math.max(1, distances.length),
    p95: percentile(distances, 0.95),
    most: distances.reduce((most, value) => Math.max(most, value), 0),
  };
}
