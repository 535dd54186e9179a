import { type MutableVector3, normalise, writeTriangleCross } from '../math/index.ts';
export interface MeshRayHit {
  distance: number;
  triangle: number;
  point: [number, number, number];
  /** Unit normal of the triangle as wound, whichever side was hit. */
  normal: [number, number, number];
}

/** Distances of all points from two planes through the ray; grows, and is kept for the next ray. */
let offsets = new Float32Array(0);

/**
 * First triangle that a ray meets, both sides counted; null when none. O(n + t): for meshes that change every frame,
 * where a tree would have to be refitted for each query.
 *
 * First the distances of all points from two planes through the ray: nearly all triangles lie to one side of one of them,
 * and are done with. That takes a third of the time of testing every triangle.
 *
 * Reference: T. Möller and B. Trumbore, *Fast, minimum storage ray-triangle intersection*, J. Graphics Tools 2(1), 1997.
 */
export function castRay(
  positions: Float32Array,
  triangles: Uint32Array,
  origin: readonly [number, number, number],
  direction: readonly [number, number, number],
): MeshRayHit | null {
  const from = measureOffsets(positions, origin, direction);
  let best = Number.POSITIVE_INFINITY;
  let bestTriangle = -1;
  for (let t = 0; t < triangles.length; t += 3) {
    const a = 2 * triangles[t]!;
    const b = 2 * triangles[t + 1]!;
    const c = 2 * triangles[t + 2]!;
    const ua = from[a]!;
    const ub = from[b]!;
    const uc = from[c]!;
    if ((ua > 0 && ub > 0 && uc > 0) || (ua < 0 && ub < 0 && uc < 0)) continue;
    const va = from[a + 1]!;
    const vb = from[b + 1]!;
    const vc = from[c + 1]!;
    if ((va > 0 && vb > 0 && vc > 0) || (va < 0 && vb < 0 && vc < 0)) continue;
    const distance = measureHit(positions, triangles, t, origin, direction);
    if (distance > 0 && distance < best) {
      best = distance;
      bestTriangle = t / 3;
    }
  }
  if (bestTriangle < 0) return null;
  return {
    distance: best,
    triangle: bestTriangle,
    point: [0, 1, 2].map((k) => origin[k]! + best * direction[k]!) as [number, number, number],
    normal: computeTriangleNormal(positions, triangles, bestTriangle),
  };
}

function measureOffsets(
  positions: Float32Array,
  [ox, oy, oz]: readonly [number, number, number],
  [dx, dy, dz]: readonly [number, number, number],
): Float32Array {
  const count = positions.length / 3;
  if (offsets.length < 2 * count) offsets = new Float32Array(2 * count);
  const out = offsets;
  // Two normals across the ray: the axis it runs least along, and what stands on both. Lengths do not matter.
  const [ax, ay, az] = [Math.abs(dx), Math.abs(dy), Math.abs(dz)];
  const isX = ax <= ay && ax <= az;
  const isY = !isX && ay <= az;
  const ux = isX ? 0 : isY ? -dz : dy;
  const uy = isX ? dz : isY ? 0 : -dx;
  const uz = isX ? -dy : isY ? dx : 0;
  const vx = dy * uz - dz * uy;
  const vy = dz * ux - dx * uz;
  const vz = dx * uy - dy * ux;
  for (let i = 0; i < count; i++) {
    const x = positions[3 * i]! - ox;
    const y = positions[3 * i + 1]! - oy;
    const z = positions[3 * i + 2]! - oz;
    out[2 * i] = ux * x + uy * y + uz * z;
    out[2 * i + 1] = vx * x + vy * y + vz * z;
  }
  return out;
}

/** @returns How far along the ray it meets a triangle; NaN when it does not. */
function measureHit(
  positions: Float32Array,
  triangles: Uint32Array,
  t: number,
  [ox, oy, oz]: readonly [number, number, number],
  [dx, dy, dz]: readonly [number, number, number],
): number {
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
  if (determinant === 0) return Number.NaN;
  const sx = ox - positions[a]!;
  const sy = oy - positions[a + 1]!;
  const sz = oz - positions[a + 2]!;
  const u = (sx * px + sy * py + sz * pz) / determinant;
  if (u < 0 || u > 1) return Number.NaN;
  const qx = sy * e1z - sz * e1y;
  const qy = sz * e1x - sx * e1z;
  const qz = sx * e1y - sy * e1x;
  const v = (dx * qx + dy * qy + dz * qz) / determinant;
  if (v < 0 || u + v > 1) return Number.NaN;
  return (e2x * qx + e2y * qy + e2z * qz) / determinant;
}

function computeTriangleNormal(
  positions: Float32Array,
  triangles: Uint32Array,
  triangle: number,
): MutableVector3 {
  const at = (corner: number): number => 3 * triangles[3 * triangle + corner]!;
  return normalise(writeTriangleCross(positions, at(0), at(1), at(2), [0, 0, 0]));
}
