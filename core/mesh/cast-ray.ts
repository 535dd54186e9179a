export interface MeshRayHit {
  distance: number;
  triangle: number;
  point: [number, number, number];
  /** Unit normal of the triangle as wound, whichever side was hit. */
  normal: [number, number, number];
}

/**
 * First triangle that a ray meets, both sides counted; null when none. O(t): for meshes that change every frame,
 * where a tree would have to be refitted for each query.
 *
 * Reference: T. Möller and B. Trumbore, *Fast, minimum storage ray-triangle intersection*, J. Graphics Tools 2(1), 1997.
 */
export function castRay(
  positions: Float32Array,
  triangles: Uint32Array,
  origin: readonly [number, number, number],
  direction: readonly [number, number, number],
): MeshRayHit | null {
  const [ox, oy, oz] = origin;
  const [dx, dy, dz] = direction;
  let best = Number.POSITIVE_INFINITY;
  let bestTriangle = -1;
  for (let t = 0; t < triangles.length; t += 3) {
    const a = 3 * triangles[t]!;
    const b = 3 * triangles[t + 1]!;
    const c = 3 * triangles[t + 2]!;
    const e1x = positions[b]! - positions[a]!;
    const e1y = positions[b + 1]! - positions[a + 1]!;
    const e1z = positions[b + 2]! - positions[a + 2]!;
    const e2x = positions[c]! - positions[a]!;
    const e2y = positions[c + 1]! - positions[a + 1]!;
    const e2z = positions[c + 2]! - positions[a + 2]!;
    const px = dy * e2z - dz * e2y;
    const py = dz * e2x - dx * e2z;
    const pz = dx * e2y - dy * e2x;
    const determinant = e1x * px + e1y * py + e1z * pz;
    if (determinant === 0) continue;
    const sx = ox - positions[a]!;
    const sy = oy - positions[a + 1]!;
    const sz = oz - positions[a + 2]!;
    const u = (sx * px + sy * py + sz * pz) / determinant;
    if (u < 0 || u > 1) continue;
    const qx = sy * e1z - sz * e1y;
    const qy = sz * e1x - sx * e1z;
    const qz = sx * e1y - sy * e1x;
    const v = (dx * qx + dy * qy + dz * qz) / determinant;
    if (v < 0 || u + v > 1) continue;
    const distance = (e2x * qx + e2y * qy + e2z * qz) / determinant;
    if (distance > 0 && distance < best) {
      best = distance;
      bestTriangle = t / 3;
    }
  }
  if (bestTriangle < 0) return null;
  return {
    distance: best,
    triangle: bestTriangle,
    point: [ox + best * dx, oy + best * dy, oz + best * dz],
    normal: computeTriangleNormal(positions, triangles, bestTriangle),
  };
}

function computeTriangleNormal(
  positions: Float32Array,
  triangles: Uint32Array,
  triangle: number,
): [number, number, number] {
  const [a, b, c] = [0, 1, 2].map((k) => 3 * triangles[3 * triangle + k]!) as [number, number, number];
  const u = [0, 1, 2].map((k) => positions[b + k]! - positions[a + k]!) as [number, number, number];
  const v = [0, 1, 2].map((k) => positions[c + k]! - positions[a + k]!) as [number, number, number];
  const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]] as const;
  const length = Math.hypot(...n) || 1;
  return [n[0] / length, n[1] / length, n[2] / length];
}
