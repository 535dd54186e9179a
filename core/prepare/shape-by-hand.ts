import {
  buildNeighbours,
  type CheckedMesh,
  computeSurfaceDistance,
  listBorderPoints,
  measureDistance,
  type Neighbours,
} from '../mesh/index.ts';
import { computeFalloff, type Falloff } from '../reach/index.ts';

/** Where the middle of a border point's neighbours lies farther off than this share of their distance, the border turns. */
const CORNER_SHARE = 0.4;

/** What a hand on the cloth needs to know of a mesh; made once for each. */
export interface HandMesh {
  faces: Uint32Array;
  neighbours: Neighbours;
  isBorder: Uint8Array;
}

/** What shaping by hand asks of a section again and again: its welded vertices in bind pose and who is beside whom. */
export function createHandMesh({ faces, table, pointCount }: CheckedMesh): HandMesh {
  const isBorder = new Uint8Array(pointCount);
  for (const point of listBorderPoints(table)) isBorder[point] = 1;
  return { faces, neighbours: buildNeighbours(table, pointCount), isBorder };
}

/**
 * How much each point goes along with one that is drawn: by the distance along the surface, so that a fold lying behind
 * stays where it is.
 *
 * @param positions - [n, 3] m. @param radius - m. @returns 0 to 1, [n].
 */
export function measureHold(
  { faces }: HandMesh,
  positions: Float32Array,
  point: number,
  radius: number,
  falloff: Falloff,
): Float32Array {
  const isSource = new Uint8Array(positions.length / 3);
  isSource[point] = 1;
  const { distances } = computeSurfaceDistance(positions, faces, isSource);
  return distances.map((distance) => computeFalloff(falloff, distance / radius));
}

/**
 * Moves points towards the middle of their neighbours. Points of a border go by their neighbours along it, so that a hem
 * is smoothed and not drawn in; corners of it stay.
 *
 * @param positions - [n, 3] m, changed. @param strength - How much of the way, 0 to 1, [n].
 */
export function smoothPositions(
  { neighbours: { start, list }, isBorder }: HandMesh,
  positions: Float32Array,
  strength: Float32Array,
): void {
  const before = positions.slice();
  for (let p = 0; p < strength.length; p++) {
    if (!(strength[p]! > 0)) continue;
    const mean = [0, 0, 0];
    let count = 0;
    let reach = 0;
    for (let i = start[p]!; i < start[p + 1]!; i++) {
      const q = list[i]!;
      if (isBorder[p] && !isBorder[q]) continue;
      count++;
      reach += measureDistance(before, p, q);
      for (let k = 0; k < 3; k++) mean[k] = mean[k]! + before[3 * q + k]!;
    }
    if (count === 0) continue;
    const displacement = Math.hypot(...mean.map((sum, k) => sum / count - before[3 * p + k]!));
    if (isBorder[p] && displacement > (CORNER_SHARE * reach) / count) continue;
    for (let k = 0; k < 3; k++)
      positions[3 * p + k] = before[3 * p + k]! + strength[p]! * (mean[k]! / count - before[3 * p + k]!);
  }
}
