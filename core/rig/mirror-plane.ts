import { addScaled, distanceBetween, dot, type MutableVector3, normalise, subtract } from '../math/index.ts';
import type { Skeleton } from './character.ts';
import { mirrorName, type SidePair } from './mirror-name.ts';

/** A plane that a figure is alike on both sides of. */
export interface MirrorPlane {
  point: MutableVector3;
  /** Unit length, towards the side whose joints have the lower names. */
  normal: MutableVector3;
}

/** Joints of a pair may lie so far off each other's image, as a share of how far apart they are, or so far, m. */
const OFF_SHARE = 0.1;
const OFF = 0.02;

/**
 * The plane between the joints whose names say left and right; null when there are no such pairs, or they are not each other's image.
 * @param matrices - World matrices of all nodes, in bind pose, [n, 16]. @param pairs - See `mirrorName`.
 */
export function findMirrorPlane(
  { names }: Pick<Skeleton, 'names'>,
  matrices: ArrayLike<number>,
  pairs?: readonly SidePair[],
): MirrorPlane | null {
  const place = (node: number): MutableVector3 => [
    matrices[16 * node + 12]!,
    matrices[16 * node + 13]!,
    matrices[16 * node + 14]!,
  ];
  const found: [MutableVector3, MutableVector3][] = [];
  names.forEach((name, node) => {
    const other = mirrorName(name, pairs);
    const otherNode = other === null ? -1 : names.indexOf(other);
    if (otherNode > -1 && name < other!) found.push([place(node), place(otherNode)]);
  });
  const apart = found.filter(([p, q]) => distanceBetween(p, q) > 1e-4);
  if (apart.length === 0) return null;
  let sum: MutableVector3 = [0, 0, 0];
  let point: MutableVector3 = [0, 0, 0];
  for (const [p, q] of apart) {
    const way = subtract(p, q);
    // Crossed pairs (a hand carried to the other side) still tell the same plane.
    sum = addScaled(sum, way, dot(way, sum) < 0 ? -1 : 1);
    point = addScaled(point, addScaled(p, q, 1), 0.5 / apart.length);
  }
  const plane = { point, normal: normalise(sum) };
  const isAlike = found.every(
    ([p, q]) => distanceBetween(reflect(plane, p), q) <= Math.max(OFF, OFF_SHARE * distanceBetween(p, q)),
  );
  return isAlike ? plane : null;
}

/** The image of a place. */
export function reflect({ point, normal }: MirrorPlane, place: MutableVector3): MutableVector3 {
  return addScaled(place, normal, -2 * dot(subtract(place, point), normal));
}

/** The reflection as a matrix, [16] by columns. */
export function toReflection({ point, normal }: MirrorPlane): Float64Array {
  const matrix = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
  for (let c = 0; c < 3; c++) {
    for (let r = 0; r < 3; r++) matrix[4 * c + r] = matrix[4 * c + r]! - 2 * normal[r]! * normal[c]!;
  }
  const away = 2 * dot(point, normal);
  for (let r = 0; r < 3; r++) matrix[12 + r] = away * normal[r]!;
  return matrix;
}
