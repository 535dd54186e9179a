import { type MutableVector3, writeClosestWeights, writeTriangleCross } from '../../math/index.ts';
import { measureCorner } from '../../mesh/index.ts';
import type { PosedSkin } from './posed-skin.ts';

/** Feet no farther apart than this, m, are one: that of an edge or a point that triangles share. */
const SAME_FOOT = 1e-6;

/** Nearest place so far: its way (m², endless: none), and the triangle that it is of. */
const nearest = { squared: 0, triangle: -1, x: 0, y: 0, z: 0 };
/** Whether the place is before all triangles that the nearest place is of, behind all; or before some and behind others. */
const side = { isBefore: true, isBehind: false };
/** These triangles, and the point of the skin around which each was found; as many as `count`. */
const sharing = { triangles: new Uint32Array(64), points: new Uint32Array(64), count: 0 };

/**
 * How deep a place lies beneath the triangles around a point of the skin, m; below 0 above them. For the point that is the nearest to
 * the place; inside, triangles around its neighbours are looked at, too, since the nearest triangle may be one of theirs.
 *
 * The side is that of the pseudo-normal of what the place is nearest to, face, edge or point, as in J. A. Bærentzen, H. Aanæs,
 * *Signed distance computation using the angle weighted pseudonormal*, IEEE TVCG 11(3), 2005.
 */
export function measureDepthAt(skin: PosedSkin, point: number, x: number, y: number, z: number): number {
  nearest.squared = Number.POSITIVE_INFINITY;
  sharing.count = 0;
  lookAround(skin, point, x, y, z);
  if (nearest.squared === Number.POSITIVE_INFINITY) return Number.NEGATIVE_INFINITY;
  if (!isBehind(skin, x, y, z)) return -Math.sqrt(nearest.squared);
  const { triangles } = skin.model;
  const { triangle } = nearest;
  for (let k = triangle; k < triangle + 3; k++)
    if (triangles[k] !== point) lookAround(skin, triangles[k]!, x, y, z);
  return isBehind(skin, x, y, z) ? Math.sqrt(nearest.squared) : -Math.sqrt(nearest.squared);
}

function isBehind({ positions, model }: PosedSkin, x: number, y: number, z: number): boolean {
  if (side.isBefore !== side.isBehind) return side.isBehind;
  // By the sum of the normals, each by the angle of its triangle.
  let sum = 0;
  for (let i = 0; i < sharing.count; i++) {
    const t = sharing.triangles[i]!;
    const weight = weighCorner(positions, model.triangles, t, sharing.points[i]!);
    const [a, b, c] = [0, 1, 2].map((k) => 3 * model.triangles[t + k]!) as [number, number, number];
    writeTriangleCross(positions, a, b, c, cross);
    const [nx, ny, nz] = cross;
    const length = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    sum += (weight / length) * ((x - nearest.x) * nx + (y - nearest.y) * ny + (z - nearest.z) * nz);
  }
  return sum < 0;
}

const cross: MutableVector3 = [0, 0, 0];

const weights = { b: 0, c: 0 };

/** Looks at the triangles around a point of the skin. */
function lookAround(skin: PosedSkin, point: number, x: number, y: number, z: number): void {
  const { triangles, around } = skin.model;
  const p = skin.positions;
  const end = around.start[point + 1]!;
  for (let i = around.start[point]!; i < end; i++) {
    const t = 3 * around.list[i]!;
    skin.ensure(triangles[t]!);
    skin.ensure(triangles[t + 1]!);
    skin.ensure(triangles[t + 2]!);
    const a = 3 * triangles[t]!;
    const b = 3 * triangles[t + 1]!;
    const c = 3 * triangles[t + 2]!;
    const ax = p[a]!;
    const ay = p[a + 1]!;
    const az = p[a + 2]!;
    const ux = p[b]! - ax;
    const uy = p[b + 1]! - ay;
    const uz = p[b + 2]! - az;
    const wx = p[c]! - ax;
    const wy = p[c + 1]! - ay;
    const wz = p[c + 2]! - az;
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
    const fx = ax + weights.b * ux + weights.c * wx;
    const fy = ay + weights.b * uy + weights.c * wy;
    const fz = az + weights.b * uz + weights.c * wz;
    const dx = x - fx;
    const dy = y - fy;
    const dz = z - fz;
    const squared = dx * dx + dy * dy + dz * dz;
    // Triangles that share what is nearest have one foot.
    const sharesFoot =
      nearest.squared < Number.POSITIVE_INFINITY &&
      Math.abs(fx - nearest.x) + Math.abs(fy - nearest.y) + Math.abs(fz - nearest.z) < SAME_FOOT;
    if (!sharesFoot && squared >= nearest.squared) continue;
    const nx = uy * wz - uz * wy;
    const ny = uz * wx - ux * wz;
    const nz = ux * wy - uy * wx;
    const isBefore = dx * nx + dy * ny + dz * nz >= 0;
    if (!sharesFoot) {
      nearest.squared = squared;
      nearest.triangle = t;
      nearest.x = fx;
      nearest.y = fy;
      nearest.z = fz;
      side.isBefore = isBefore;
      side.isBehind = !isBefore;
      sharing.count = 0;
    } else if (isBefore) side.isBefore = true;
    else side.isBehind = true;
    if (sharing.count < sharing.triangles.length) {
      sharing.triangles[sharing.count] = t;
      sharing.points[sharing.count++] = point;
    }
  }
}

/** Angle of a triangle at one of its corners, rad. */
function weighCorner(p: Float32Array, triangles: Uint32Array, t: number, point: number): number {
  const corner = triangles[t] === point ? 0 : triangles[t + 1] === point ? 1 : 2;
  const next = triangles[t + ((corner + 1) % 3)]!;
  return measureCorner(p, 3 * point, 3 * next, 3 * triangles[t + ((corner + 2) % 3)]!);
}
