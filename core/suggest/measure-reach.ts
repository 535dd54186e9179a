import type { GarmentSetup } from '../run/index.ts';
import type { BodySkin } from './body-skin.ts';

/** Beyond what a point of cloth may go, skin this far off is touched by the cloth around it, m; held cloth counts as if it went a little. */
const SLACK = 0.03;
const LEAST = 0.02;
/** Cloth goes nowhere farther, m. */
const MOST = 0.4;
/** Points of cloth that stand for a garment, at most. */
const MOST_POINTS = 250;

/**
 * How much each point of the skin can be touched by garments over the poses, from where their points are skinned and as far as they may
 * go from there: near 1 beside cloth, less the farther of its way it would have to go, 0 where none comes.
 *
 * @param garments - In the order of the set-up; null ones are left out. @returns [n]
 */
export function measureReach(
  { poses, positions }: BodySkin,
  garments: readonly (GarmentSetup | null)[],
): Float32Array {
  const count = positions.length / 3;
  const reach = new Float32Array(count);
  garments.forEach((setup, g) => {
    if (!setup) return;
    const { compiled, maxDistances } = setup;
    const stride = Math.max(1, Math.ceil(compiled.pointCount / MOST_POINTS));
    for (const [index, { positions: skin, targets }] of poses.entries()) {
      // Poses of one clip are near each other.
      if (index % 2 === 1) continue;
      const places = targets[g]!;
      for (let i = 0; i < compiled.pointCount; i += stride) {
        const free = Math.min(MOST, Math.max(LEAST, maxDistances[compiled.weldedOfPoint[i]!]!));
        const radius = free + SLACK;
        const [x, y, z] = [places[4 * i]!, places[4 * i + 1]!, places[4 * i + 2]!];
        for (let p = 0; p < count; p++) {
          const dx = skin[3 * p]! - x;
          if (dx > radius || dx < -radius) continue;
          const dy = skin[3 * p + 1]! - y;
          if (dy > radius || dy < -radius) continue;
          const dz = skin[3 * p + 2]! - z;
          const squared = dx * dx + dy * dy + dz * dz;
          if (squared >= radius * radius) continue;
          const near = 1 - Math.sqrt(squared) / radius;
          if (near * near > reach[p]!) reach[p] = near * near;
        }
      }
    }
  });
  return reach;
}
