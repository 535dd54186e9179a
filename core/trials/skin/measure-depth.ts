import { writeClosestWeights } from '../../math/index.ts';
import { measureCorner } from '../../mesh/index.ts';
import type { PosedSkin } from './posed-skin.ts';

/** Feet no farther apart than this, m, are one: that of an edge or a point that triangles share. */
const SAME_FOOT = 1e-6;

const foot = [0, 0, 0, 0, 0, 0];

/** Nearest triangle so far: its way (m², endless: none), foot and pseudo-normal. */
const nearest = { squared: 0, triangle: -1, x: 0, y: 0, z: 0, nx: 0, ny: 0, nz: 0 };

/**
 * How deep a place lies beneath the triangles around a point of the skin, m; below 0 above them. For the point that is the nearest to
 * the place; inside, triangles around its neighbours are looked at, too, since the nearest triangle may be one of theirs.
 *
 * The side is that of the pseudo-normal of what the place is nearest to, face, edge or point, as in J. A. Bærentzen, H. Aanæs,
 * *Signed distance computation using the angle weighted pseudonormal*, IEEE TVCG 11(3), 2005.
 */
export function measureDepthAt(skin: PosedSkin, point: number, x: number, y: number, z: number): number {
  nearest.squared = Number.POSITIVE_INFINITY;
  lookAround(skin, point, x, y, z);
  if (nearest.squared === Number.POSITIVE_INFINITY) return Number.NEGATIVE_INFINITY;
  if (!isBehind(x, y, z)) return -Math.sqrt(nearest.squared);
  const { triangles } = skin.model;
  const { triangle } = nearest;
  for (let k = triangle; k < triangle + 3; k++)
    if (triangles[k] !== point) lookAround(skin, triangles[k]!, x, y, z);
  return isBehind(x, y, z) ? Math.sqrt(nearest.squared) : -Math.sqrt(nearest.squared);
}

function isBehind(x: number, y: number, z: number): boolean {
  return (x - nearest.x) * nearest.nx + (y - nearest.y) * nearest.ny + (z - nearest.z) * nearest.nz < 0;
}

function lookAround(skin: PosedSkin, point: number, x: number, y: number, z: number): void {
  const { triangles, around } = skin.model;
  const p = skin.positions;
  for (let i = around.start[point]!; i < around.start[point + 1]!; i++) {
    const t = 3 * around.list[i]!;
    for (let k = t; k < t + 3; k++) skin.ensure(triangles[k]!);
    findFoot(p, 3 * triangles[t]!, 3 * triangles[t + 1]!, 3 * triangles[t + 2]!, x, y, z);
    const dx = x - foot[0]!;
    const dy = y - foot[1]!;
    const dz = z - foot[2]!;
    const squared = dx * dx + dy * dy + dz * dz;
    // Triangles that share what is nearest have one foot: their normals are summed by their angles there.
    const sharesFoot =
      nearest.squared < Number.POSITIVE_INFINITY &&
      Math.abs(foot[0]! - nearest.x) + Math.abs(foot[1]! - nearest.y) + Math.abs(foot[2]! - nearest.z) <
        SAME_FOOT;
    if (!sharesFoot && squared >= nearest.squared) continue;
    if (!sharesFoot) {
      nearest.squared = squared;
      nearest.triangle = t;
      nearest.x = foot[0]!;
      nearest.y = foot[1]!;
      nearest.z = foot[2]!;
      nearest.nx = nearest.ny = nearest.nz = 0;
    }
    const weight = weighCorner(p, triangles, t, point);
    nearest.nx += weight * foot[3]!;
    nearest.ny += weight * foot[4]!;
    nearest.nz += weight * foot[5]!;
  }
}

const weights = { b: 0, c: 0 };

/** Writes the nearest place of a triangle and its unit normal to `foot`. */
function findFoot(p: Float32Array, a: number, b: number, c: number, x: number, y: number, z: number): void {
  const ax = p[a]!;
  const ay = p[a + 1]!;
  const az = p[a + 2]!;
  const ux = p[b]! - ax;
  const uy = p[b + 1]! - ay;
  const uz = p[b + 2]! - az;
  const wx = p[c]! - ax;
  const wy = p[c + 1]! - ay;
  const wz = p[c + 2]! - az;
  const nx = uy * wz - uz * wy;
  const ny = uz * wx - ux * wz;
  const nz = ux * wy - uy * wx;
  const area = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
  const qx = x - ax;
  const qy = y - ay;
  const qz = z - az;
  writeClosestWeights(
    ux * ux + uy * uy + uz * uz,
    ux * wx + uy * wy + uz * wz,
    wx * wx + wy * wy + wz * wz,
    ux * qx + uy * qy + uz * qz,
    wx * qx + wy * qy + wz * qz,
    weights,
  );
  foot[0] = ax + weights.b * ux + weights.c * wx;
  foot[1] = ay + weights.b * uy + weights.c * wy;
  foot[2] = az + weights.b * uz + weights.c * wz;
  foot[3] = nx / area;
  foot[4] = ny / area;
  foot[5] = nz / area;
}

/** Angle of a triangle at one of its corners, rad. */
function weighCorner(p: Float32Array, triangles: Uint32Array, t: number, point: number): number {
  const corner = triangles[t] === point ? 0 : triangles[t + 1] === point ? 1 : 2;
  const next = triangles[t + ((corner + 1) % 3)]!;
  return measureCorner(p, 3 * point, 3 * next, 3 * triangles[t + ((corner + 2) % 3)]!);
}
