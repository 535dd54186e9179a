/**
 * Keeps every free point within its max distance of its skinned place: |x - target| ≤ d, for a target that
 * moves evenly during the frame.
 *
 * @param x - [n, 4], changed. @param maxDistances - [n] metres.
 * @param from - Targets at the start of the frame, [n, 4]; `to` - at its end; `share` - how far between, 0 to 1.
 */
export function holdWithinReach(
  x: Float32Array,
  maxDistances: Float32Array,
  from: Float32Array,
  to: Float32Array,
  share: number,
): void {
  for (let i = 0; i < maxDistances.length; i++) {
    const o = 4 * i;
    if (x[o + 3] === 0) continue;
    const tx = from[o]! + share * (to[o]! - from[o]!);
    const ty = from[o + 1]! + share * (to[o + 1]! - from[o + 1]!);
    const tz = from[o + 2]! + share * (to[o + 2]! - from[o + 2]!);
    const dx = x[o]! - tx;
    const dy = x[o + 1]! - ty;
    const dz = x[o + 2]! - tz;
    const distanceSquared = dx * dx + dy * dy + dz * dz;
    const most = maxDistances[i]!;
    if (distanceSquared <= most * most) continue;
    const scale = most / Math.sqrt(distanceSquared);
    x[o] = tx + scale * dx;
    x[o + 1] = ty + scale * dy;
    x[o + 2] = tz + scale * dz;
  }
}
