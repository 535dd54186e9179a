import { cross, distanceBetween, dot, type MutableVector3, subtract } from '../math/index.ts';
import { computeHullPlanes } from './hull-planes.ts';

/** A vertex that stands out of the others' hull by less than this, m, adds nothing. */
const FLAT = 2e-4;

/** Six times the volume of a tetrahedron that counts as one, m³. */
const LEAST_VOLUME = 1e-12;

/**
 * The vertices of a hull of few vertices that stays inside the convex hull of points: one by one that which stands out farthest of the
 * hull of those before. Ours.
 *
 * @param points - [n, 3] m, at least four, not in one plane.
 * @param most - Vertices, at least 4.
 * @returns [k, 3] flat, k ≤ most; fewer when fewer do.
 * @throws {RangeError} When the points span no volume.
 */
export function reduceHull(points: Float32Array, most: number): number[] {
  const chosen = chooseTetrahedron(points);
  const gather = (): Float32Array =>
    Float32Array.from(chosen.flatMap((i) => [...points.subarray(3 * i, 3 * i + 3)]));
  while (chosen.length < most) {
    const planes = computeHullPlanes(gather());
    let best = -1;
    let bestHeight = FLAT;
    for (let i = 0; i < points.length / 3; i++) {
      let height = Number.NEGATIVE_INFINITY;
      for (const [nx, ny, nz, d] of planes as [number, number, number, number][]) {
        const over = nx * points[3 * i]! + ny * points[3 * i + 1]! + nz * points[3 * i + 2]! - d;
        if (over > height) height = over;
      }
      if (height > bestHeight) {
        bestHeight = height;
        best = i;
      }
    }
    if (best < 0) break;
    chosen.push(best);
  }
  return [...gather()];
}

/** Four points far from one another: two ends, the farthest from their line, and the farthest from that plane. */
function chooseTetrahedron(points: Float32Array): number[] {
  const at = (i: number): MutableVector3 => [points[3 * i]!, points[3 * i + 1]!, points[3 * i + 2]!];
  const farthest = (measure: (p: MutableVector3) => number): number => {
    let best = 0;
    let most = Number.NEGATIVE_INFINITY;
    for (let i = 0; i < points.length / 3; i++) {
      const value = measure(at(i));
      if (value > most) {
        most = value;
        best = i;
      }
    }
    return best;
  };
  const first = farthest(([x, y, z]) => x + 0.1 * y + 0.01 * z);
  const a = at(first);
  const second = farthest((p) => distanceBetween(p, a));
  const u = subtract(at(second), a);
  const third = farthest((p) => distanceBetween(cross(u, subtract(p, a)), [0, 0, 0]));
  const n = cross(u, subtract(at(third), a));
  const fourth = farthest((p) => Math.abs(dot(n, subtract(p, a))));
  if (!(Math.abs(dot(n, subtract(at(fourth), a))) > LEAST_VOLUME)) {
    throw new RangeError('The points span no volume; a hull needs four that do not lie in one plane.');
  }
  return [first, second, third, fourth];
}
