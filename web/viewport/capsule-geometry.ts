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

/** Rings stand about so far apart along a limb, m; a body has no more than so many between its ends. */
const RING_SPACING = 0.045;
const MOST_BETWEEN = 9;

/**
 * Rings across the limb on the same surface, as line segments: where the cone meets the ends, at even steps between
 * them, and one on each cap.
 */
export function createRingGeometry(length: number, radiusA: number, radiusB: number): BufferGeometry {
  const tangent = getTangent(length, radiusA, radiusB);
  const onBall = (radius: number, y: number, angle: number): [number, number] => [
    radius * Math.cos(angle),
    y + radius * Math.sin(angle),
  ];
  const low = onBall(radiusA, 0, tangent);
  const high = onBall(radiusB, length, tangent);
  const rings = [
    onBall(radiusA, 0, (tangent - Math.PI / 2) / 2),
    low,
    onBall(radiusB, length, (tangent + Math.PI / 2) / 2),
  ];
  if (length > 0) {
    rings.push(high);
    const steps = Math.min(MOST_BETWEEN + 1, Math.max(2, Math.round((high[1] - low[1]) / RING_SPACING)));
    for (let i = 1; i < steps; i++)
      rings.push([low[0] + (i / steps) * (high[0] - low[0]), low[1] + (i / steps) * (high[1] - low[1])]);
  }
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
