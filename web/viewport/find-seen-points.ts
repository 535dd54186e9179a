import { SpatialIndex } from '../../core/math/index.ts';

/** A surface this much nearer to the eye (m) hides a point. */
const HIDES = 2e-3;

/**
 * Points that an eye sees: nothing of the same mesh lies before them.
 * @param positions - As they are drawn, m, [p, 3]. @param faces - Over the points. @param eye - m.
 */
export function findSeenPoints(
  positions: Float32Array,
  faces: Uint32Array,
  eye: readonly [number, number, number],
): Uint8Array {
  const index = new SpatialIndex(positions.slice(), faces);
  return Uint8Array.from({ length: positions.length / 3 }, (_, p) => {
    const displacement = [0, 1, 2].map((k) => positions[3 * p + k]! - eye[k]!);
    const distance = Math.hypot(...displacement);
    const hit = index.castRay(
      eye,
      displacement.map((value) => value / distance),
    );
    return hit && hit.distance < distance - HIDES ? 0 : 1;
  });
}
