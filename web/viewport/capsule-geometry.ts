import { BufferAttribute, BufferGeometry, LatheGeometry, Vector2 } from 'three';

const AROUND = 28;
const CAP_STEPS = 7;

/** Elevation (rad) at which the cone touches both spheres. */
function getTangent(length: number, radiusA: number, radiusB: number): number {
  return length > 0 ? Math.asin(Math.max(-1, Math.min(1, (radiusA - radiusB) / length))) : 0;
}

/** A tapered capsule along Y: end a at the origin, end b at y = length. */
export function createCapsuleGeometry(length: number, radiusA: number, radiusB: number): BufferGeometry {
  const tangent = getTangent(length, radiusA, radiusB);
  const profile: Vector2[] = [];
  for (let i = 0; i <= CAP_STEPS; i++) {
    const angle = -Math.PI / 2 + (i / CAP_STEPS) * (tangent + Math.PI / 2);
    profile.push(new Vector2(Math.max(0, radiusA * Math.cos(angle)), radiusA * Math.sin(angle)));
  }
  for (let i = 0; i <= CAP_STEPS; i++) {
    const angle = tangent + (i / CAP_STEPS) * (Math.PI / 2 - tangent);
    profile.push(new Vector2(Math.max(0, radiusB * Math.cos(angle)), length + radiusB * Math.sin(angle)));
  }
  return new LatheGeometry(profile, AROUND);
}

/** Contour rings of the same: where the cone meets the ends, and half way. As line segments. */
export function createRingGeometry(length: number, radiusA: number, radiusB: number): BufferGeometry {
  const tangent = getTangent(length, radiusA, radiusB);
  const low = [radiusA * Math.cos(tangent), radiusA * Math.sin(tangent)] as const;
  const high = [radiusB * Math.cos(tangent), length + radiusB * Math.sin(tangent)] as const;
  const rings = length > 0 ? [low, [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2] as const, high] : [low];
  const points: number[] = [];
  for (const [radius, y] of rings) {
    for (let i = 0; i < AROUND; i++) {
      for (const step of [i, i + 1]) {
        const angle = (2 * Math.PI * step) / AROUND;
        points.push(radius * Math.cos(angle), y, radius * Math.sin(angle));
      }
    }
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(points), 3));
  return geometry;
}
