import { SpatialIndex } from '../math/index.ts';
import { measureOnTriangle } from './measure-on-triangle.ts';
import type { Surface } from './surface.ts';

export interface MatchOptions {
  /** Metres: farther away nothing is matched. */
  maxDistance: number;
  /** Between the two normals, rad. */
  maxAngle: number;
}

/** The place on a surface that a point is matched with; `triangle` is -1 without one. */
export interface SurfaceMatch {
  triangle: number;
  /** Of the triangle's corners. */
  weights: [number, number, number];
  distance: number;
}

/**
 * For each of some places the closest place of a surface, if it is near enough and faces alike.
 *
 * @param positions, normals - [n, 3]; the normals unit. @param sourceNormals - At the source's points, [m, 3].
 */
export function matchSurface(
  positions: Float32Array,
  normals: Float32Array,
  source: Surface,
  sourceNormals: Float32Array,
  { maxDistance, maxAngle }: MatchOptions,
): SurfaceMatch[] {
  const index = new SpatialIndex(source.positions.slice(), source.triangles);
  const cosine = Math.cos(maxAngle);
  const matches: SurfaceMatch[] = [];
  for (let i = 0; i < positions.length; i += 3) {
    const position: [number, number, number] = [positions[i]!, positions[i + 1]!, positions[i + 2]!];
    const closest = index.findClosest(...position, maxDistance);
    const none: SurfaceMatch = {
      triangle: -1,
      weights: [0, 0, 0],
      distance: closest?.distance ?? Number.POSITIVE_INFINITY,
    };
    if (!closest) {
      matches.push(none);
      continue;
    }
    const corners = [0, 1, 2].map((k) => source.triangles[3 * closest.triangle + k]!) as [
      number,
      number,
      number,
    ];
    const { weights } = measureOnTriangle(source.positions, 3, corners, closest.point);
    let dot = 0;
    let squared = 0;
    for (let k = 0; k < 3; k++) {
      const n = corners.reduce((sum, corner, c) => sum + weights[c]! * sourceNormals[3 * corner + k]!, 0);
      dot += n * normals[i + k]!;
      squared += n * n;
    }
    matches.push(
      dot >= cosine * Math.sqrt(squared)
        ? { triangle: closest.triangle, weights, distance: closest.distance }
        : none,
    );
  }
  return matches;
}
