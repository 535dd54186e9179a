import { SpatialIndex, type Vector3 } from '../../math/index.ts';
import { measureOnTriangle } from '../measure-on-triangle.ts';
import type { Surface } from '../surface.ts';
import { computeTriangleAreas } from '../triangle-area.ts';
import { normalOfSource } from './places.ts';

/** Points move so often, each time by so much of what they are off. */
const ROUNDS = 4;
const SHARE = 0.7;

/**
 * Moves the points of a surface so that it lies in the middle of another that it stands for, neither within nor beyond it: each by what its
 * triangles are off there, on the mean by area. Ours.
 *
 * @param source - [n, 3] places are weighed by the area around them.
 * About O(n log n).
 */
export function fitSurface(made: Surface, source: Surface): Surface {
  const weights = weighPoints(source);
  const positions = made.positions.slice();
  const fitted = { positions, triangles: made.triangles };
  const index = new SpatialIndex(positions.slice(), made.triangles);
  for (let round = 0; round < ROUNDS; round++) {
    const sums = new Float64Array(positions.length);
    const totals = new Float64Array(positions.length / 3);
    for (let p = 0; p < weights.length; p++) {
      if (weights[p] === 0) continue;
      const place = [0, 1, 2].map((k) => source.positions[3 * p + k]!) as [number, number, number];
      gather(fitted, index, place, weights[p]!, sums, totals);
    }
    for (let i = 0; i < positions.length; i++) {
      const total = totals[Math.floor(i / 3)]!;
      if (total > 0) positions[i] = positions[i]! + (SHARE * sums[i]!) / total;
    }
    index.refit(positions);
  }
  return fitted;
}

/** Adds what the surface is off at one place of its source to the corners of the triangle there, along its normal. */
function gather(
  fitted: Surface,
  index: SpatialIndex,
  place: Vector3,
  weight: number,
  sums: Float64Array,
  totals: Float64Array,
): void {
  const hit = index.findClosest(...place)!;
  const corners = [0, 1, 2].map((k) => fitted.triangles[3 * hit.triangle + k]!);
  const { weights, height } = measureOnTriangle(
    fitted.positions,
    3,
    corners,
    place as [number, number, number],
  );
  // Beside an open border the surface is not off: it ends.
  if (weights.some((share) => share < -0.05)) return;
  const [x, y, z] = normalOfSource(fitted, hit.triangle);
  const length = Math.sqrt(x * x + y * y + z * z);
  if (!(length > 0)) return;
  corners.forEach((corner, k) => {
    const share = weight * Math.max(0, weights[k]!) ** 2;
    totals[corner] = totals[corner]! + share;
    [x, y, z].forEach((value, c) => {
      sums[3 * corner + c] = sums[3 * corner + c]! + (share * height * value) / length;
    });
  });
}

function weighPoints({ positions, triangles }: Surface): Float64Array {
  const weights = new Float64Array(positions.length / 3);
  const areas = computeTriangleAreas(positions, triangles);
  triangles.forEach((point, i) => {
    weights[point] = weights[point]! + areas[Math.floor(i / 3)]! / 3;
  });
  return weights;
}
