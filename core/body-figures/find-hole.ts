import { computeSurfaceDistance } from '../mesh/index.ts';
import type { BodySkin } from '../suggest/index.ts';
import { COVERED } from './distances.ts';

/** Skin that no body covers, about its middle. */
export interface SkinHole {
  /** World place of the point that is farthest from covered skin, m. */
  position: [number, number, number];
  /** Twice its way along the skin to skin that is covered, m; the whole piece's extent where none is. */
  width: number;
  /** Where in the clips that is: index of the clip, null for the bind pose, and seconds into it. */
  clip: number | null;
  time: number;
}

/** Narrower ones, m, are between the vertices of the skin. */
const LEAST_WIDTH = 0.01;

/**
 * The widest hole in any of some poses.
 * @param points - Skin that is looked at. @param values - Distance of each point from the nearest body in each pose, m, [n] each.
 * @param first - Pose that the first values are of.
 */
export function findLargestHole(
  skin: BodySkin,
  points: readonly number[],
  values: readonly Float32Array[],
  first: number,
): SkinHole | null {
  let largest: SkinHole | null = null;
  values.forEach((distances, i) => {
    const hole = findHole(skin, points, distances, first + i);
    if (hole && hole.width > (largest?.width ?? LEAST_WIDTH)) largest = hole;
  });
  return largest;
}

function findHole(
  { model, poses }: BodySkin,
  points: readonly number[],
  distances: Float32Array,
  pose: number,
): SkinHole | null {
  const { positions, clip, time } = poses[pose]!;
  // NaN, which is not looked at, is neither covered nor bare: what lies across it is not near.
  const isSeen = (p: number): boolean => !Number.isNaN(distances[p]!);
  const triangles = model.triangles.filter((_, i) => {
    const t = i - (i % 3);
    return [0, 1, 2].every((k) => isSeen(model.triangles[t + k]!));
  });
  const ways = computeSurfaceDistance(
    positions,
    triangles,
    Uint8Array.from(distances, (distance) => (distance <= COVERED ? 1 : 0)),
  ).distances;
  let at = -1;
  let most = 0;
  const stranded: number[] = [];
  for (const p of points) {
    if (!(distances[p]! > COVERED)) continue;
    if (ways[p] === Number.POSITIVE_INFINITY) stranded.push(p);
    else if (ways[p]! > most) {
      most = ways[p]!;
      at = p;
    }
  }
  const place = (p: number): [number, number, number] => [
    positions[3 * p]!,
    positions[3 * p + 1]!,
    positions[3 * p + 2]!,
  ];
  const alone = stranded.length > 0 ? boundStranded(stranded, place) : null;
  if (alone && alone.width > 2 * most) return { ...alone, clip, time };
  return at < 0 ? null : { position: place(at), width: 2 * most, clip, time };
}

/** Skin from which no way leads to covered skin: the middle of all of it, and how far it extends. */
function boundStranded(
  points: readonly number[],
  place: (p: number) => [number, number, number],
): Pick<SkinHole, 'position' | 'width'> {
  const low = [1, 1, 1].map(() => Number.POSITIVE_INFINITY);
  const high = low.map((value) => -value);
  for (const p of points) {
    place(p).forEach((value, k) => {
      low[k] = Math.min(low[k]!, value);
      high[k] = Math.max(high[k]!, value);
    });
  }
  const middle = low.map((value, k) => (value + high[k]!) / 2);
  const squared = (p: number): number =>
    place(p).reduce((sum, value, k) => sum + (value - middle[k]!) ** 2, 0);
  const nearest = points.reduce((best, p) => (squared(p) < squared(best) ? p : best));
  return { position: place(nearest), width: Math.max(...low.map((value, k) => high[k]! - value)) };
}
