import { SpatialIndex } from '../math/index.ts';
import type { CheckedMesh } from './health/index.ts';

/** Whether a place lies inside a closed outline, by the even-odd rule. @param outline - [n, 2], any unit. */
export function isInsideOutline(outline: ArrayLike<number>, x: number, y: number): boolean {
  let isInside = false;
  const n = outline.length / 2;
  for (let i = 0, j = n - 1; i < n; j = i++) {
    const [xi, yi, xj, yj] = [outline[2 * i]!, outline[2 * i + 1]!, outline[2 * j]!, outline[2 * j + 1]!];
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) isInside = !isInside;
  }
  return isInside;
}

/**
 * Faces whose middles an eye sees: nothing of the same mesh lies before them.
 *
 * @param positions - Of the points as they are drawn, m, [points, 3]. @param eye - m.
 */
export function findSeenFaces(
  { faces }: Pick<CheckedMesh, 'faces'>,
  positions: Float32Array,
  eye: readonly [number, number, number],
): Uint8Array {
  const index = new SpatialIndex(positions.slice(), faces);
  return Uint8Array.from({ length: faces.length / 3 }, (_, f) => {
    const displacement = computeMiddle(faces, positions, f).map((value, k) => value - eye[k]!);
    const distance = Math.hypot(...displacement);
    const hit = index.castRay(
      eye,
      displacement.map((value) => value / distance),
    );
    return hit && hit.triangle !== f && hit.distance < distance - 1e-4 ? 0 : 1;
  });
}

/** Middle of a face. */
export function computeMiddle(
  faces: Uint32Array,
  positions: Float32Array,
  face: number,
): [number, number, number] {
  return [0, 1, 2].map(
    (k) =>
      (positions[3 * faces[3 * face]! + k]! +
        positions[3 * faces[3 * face + 1]! + k]! +
        positions[3 * faces[3 * face + 2]! + k]!) /
      3,
  ) as [number, number, number];
}
