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

/** Writes the nearest place of a triangle and its unit normal to `foot`. C. Ericson, *Real-Time Collision Detection*, 2005, 5.1.5. */
function findFoot(p: Float32Array, a: number, b: number, c: number, x: number, y: number, z: number): void {
  const [ax, ay, az] = [p[a]!, p[a + 1]!, p[a + 2]!];
  const [ux, uy, uz] = [p[b]! - ax, p[b + 1]! - ay, p[b + 2]! - az];
  const [vx, vy, vz] = [p[c]! - ax, p[c + 1]! - ay, p[c + 2]! - az];
  const nx = uy * vz - uz * vy;
  const ny = uz * vx - ux * vz;
  const nz = ux * vy - uy * vx;
  const area = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
  const [qx, qy, qz] = [x - ax, y - ay, z - az];
  const d1 = ux * qx + uy * qy + uz * qz;
  const d2 = vx * qx + vy * qy + vz * qz;
  const uu = ux * ux + uy * uy + uz * uz;
  const uv = ux * vx + uy * vy + uz * vz;
  const vv = vx * vx + vy * vy + vz * vz;
  const d3 = d1 - uu;
  const d4 = d2 - uv;
  const d5 = d1 - uv;
  const d6 = d2 - vv;
  let s = 0;
  let t = 0;
  const va = d3 * d6 - d5 * d4;
  const vb = d5 * d2 - d1 * d6;
  const vc = d1 * d4 - d3 * d2;
  if (d1 <= 0 && d2 <= 0) [s, t] = [0, 0];
  else if (d3 >= 0 && d4 <= d3) [s, t] = [1, 0];
  else if (vc <= 0 && d1 >= 0 && d3 <= 0) [s, t] = [d1 / (d1 - d3), 0];
  else if (d6 >= 0 && d5 <= d6) [s, t] = [0, 1];
  else if (vb <= 0 && d2 >= 0 && d6 <= 0) [s, t] = [0, d2 / (d2 - d6)];
  else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    t = (d4 - d3) / (d4 - d3 + (d5 - d6));
    s = 1 - t;
  } else {
    const whole = va + vb + vc || 1;
    s = vb / whole;
    t = vc / whole;
  }
  foot[0] = ax + s * ux + t * vx;
  foot[1] = ay + s * uy + t * vy;
  foot[2] = az + s * uz + t * vz;
  foot[3] = nx / area;
  foot[4] = ny / area;
  foot[5] = nz / area;
}

/** Angle of a triangle at one of its corners, rad, near enough to weigh by. */
function weighCorner(p: Float32Array, triangles: Uint32Array, t: number, point: number): number {
  const corner = triangles[t] === point ? 0 : triangles[t + 1] === point ? 1 : 2;
  const at = 3 * point;
  const b = 3 * triangles[t + ((corner + 1) % 3)]!;
  const c = 3 * triangles[t + ((corner + 2) % 3)]!;
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
  return uu * vv > 0 ? Math.acos(Math.max(-1, Math.min(1, uv / Math.sqrt(uu * vv)))) : 0;
}
