import { SpatialIndex } from '../math/index.ts';
import { measureOnTriangle } from './measure-on-triangle.ts';
import type { Surface } from './surface.ts';

/** A corner that counts for less than this is not there at all: what is exact at a point stays exact beside it. */
const LEAST_SHARE = 1e-3;

/** The closest place of a surface: corners of the triangle there, with shares that sum to one. */
export interface SurfacePosition {
  corners: readonly [number, number, number];
  shares: readonly [number, number, number];
}

/** @param positions - [p, 3]. @returns null for all of them when the surface has no triangles. */
export function findSurfacePositions(source: Surface, positions: Float32Array): SurfacePosition[] | null {
  if (source.triangles.length === 0) return null;
  const index = new SpatialIndex(source.positions.slice(), source.triangles);
  const found: SurfacePosition[] = [];
  for (let i = 0; i < positions.length; i += 3) {
    const closest = index.findClosest(positions[i]!, positions[i + 1]!, positions[i + 2]!)!;
    const t = 3 * closest.triangle;
    const corners = [source.triangles[t]!, source.triangles[t + 1]!, source.triangles[t + 2]!] as const;
    const { weights } = measureOnTriangle(source.positions, 3, corners, closest.point);
    const kept = weights.map((weight) => (weight > LEAST_SHARE ? weight : 0));
    const total = kept.reduce((sum, share) => sum + share, 0);
    found.push({ corners, shares: kept.map((share) => share / total) as [number, number, number] });
  }
  return found;
}

/**
 * Values at the points of a surface, for other places: each takes what lies closest to it, mixed over the triangle there.
 *
 * @param values - [n, width]. @param positions - [p, 3].
 * @returns [p, width]; all zero when the surface has no triangles.
 */
export function sampleField(
  source: Surface,
  values: ArrayLike<number>,
  width: number,
  positions: Float32Array,
): Float32Array {
  const out = new Float32Array((positions.length / 3) * width);
  findSurfacePositions(source, positions)?.forEach(({ corners, shares }, p) => {
    for (let k = 0; k < width; k++) {
      let sum = 0;
      for (let c = 0; c < 3; c++) if (shares[c]! > 0) sum += shares[c]! * values[width * corners[c]! + k]!;
      out[width * p + k] = sum;
    }
  });
  return out;
}
