import { boundPlaces, measureDiagonal, SpatialIndex } from '../math/index.ts';
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

/** Nearer than this share of the size of the surface, a place lies on it: rounding. */
const TOUCHING = 1e-6;

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
  const least = Math.cos(maxAngle);
  const touching = TOUCHING * measureDiagonal(boundPlaces(source.positions));
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
    const normal = normals.subarray(i, i + 3);
    if (closest.distance <= touching) {
      // On the surface itself it is its own match, whatever it faces: of several there, the one that faces most alike.
      let best = measureMatch(source, sourceNormals, closest.triangle, closest.point, normal);
      index.hasWithin(...position, touching, (triangle) => {
        const other = measureMatch(source, sourceNormals, triangle, position, normal);
        if (other.cosine > best.cosine) best = other;
        return false;
      });
      matches.push({ triangle: best.triangle, weights: best.weights, distance: closest.distance });
      continue;
    }
    const { triangle, weights, cosine } = measureMatch(
      source,
      sourceNormals,
      closest.triangle,
      closest.point,
      normal,
    );
    matches.push(cosine >= least ? { triangle, weights, distance: closest.distance } : none);
  }
  return matches;
}

/** A place of a triangle, and the cosine between its normal there and another; 1 where one has no length. */
function measureMatch(
  source: Surface,
  sourceNormals: Float32Array,
  triangle: number,
  place: [number, number, number],
  normal: Float32Array,
): { triangle: number; weights: [number, number, number]; cosine: number } {
  const corners = [0, 1, 2].map((k) => source.triangles[3 * triangle + k]!) as [number, number, number];
  const { weights } = measureOnTriangle(source.positions, 3, corners, place);
  let dot = 0;
  let squared = 0;
  for (let k = 0; k < 3; k++) {
    const n = corners.reduce((sum, corner, c) => sum + weights[c]! * sourceNormals[3 * corner + k]!, 0);
    dot += n * normal[k]!;
    squared += n * n;
  }
  return { triangle, weights, cosine: squared > 0 ? dot / Math.sqrt(squared) : 1 };
}
