/** Angle between the ways from a corner to two others, rad; 0 where one has no length. @param at - First numbers of their rows. */
export function measureCorner(p: Float32Array, at: number, b: number, c: number): number {
  let uu = 0;
  let vv = 0;
  let uv = 0;
  for (let k = 0; k < 3; k++) {
    const u = p[b + k]! - p[at + k]!;
    const v = p[c + k]! - p[at + k]!;
    uu += u * u;
    vv += v * v;
    uv += u * v;
  }
  const lengths = Math.sqrt(uu * vv);
  return lengths > 0 ? Math.acos(Math.max(-1, Math.min(1, uv / lengths))) : 0;
}
