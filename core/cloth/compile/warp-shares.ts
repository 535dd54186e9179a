import { cross, dot, type MutableVector3, normalise, subtract, type Vector3 } from '../../math/index.ts';
import type { EdgeTable } from '../../mesh/index.ts';
import { NO_TRIANGLE } from '../../mesh/index.ts';

/**
 * How much each edge runs along the warp: the squared cosine of the angle between them, the mean over its triangles.
 *
 * The warp runs with V of the UVs; where there are none, or a triangle has no area in them, with the vertical. It
 * can be turned against that.
 *
 * @param rest - [n, 4] metres. @param triangles - [t, 3] points.
 * @param cornerUvs - UV of each corner of each triangle, [t, 3, 2], or null.
 * @param turn - Radians, positive from V towards U.
 * @returns [edges]
 */
export function computeWarpShares(
  rest: Float32Array,
  triangles: Uint32Array,
  cornerUvs: Float32Array | null,
  table: EdgeTable,
  turn: number,
): Float32Array {
  const warp = new Float64Array(triangles.length);
  for (let t = 0; t < triangles.length; t += 3) writeWarp(rest, triangles, cornerUvs, t, turn, warp);
  return Float32Array.from({ length: table.edgeCount }, (_, e) => {
    const a = 4 * table.edges[2 * e]!;
    const b = 4 * table.edges[2 * e + 1]!;
    const d = [0, 1, 2].map((k) => rest[b + k]! - rest[a + k]!) as [number, number, number];
    const lengthSquared = d[0] ** 2 + d[1] ** 2 + d[2] ** 2;
    let sum = 0;
    let count = 0;
    for (const t of [table.triangles[2 * e]!, table.triangles[2 * e + 1]!]) {
      if (t === NO_TRIANGLE || !(lengthSquared > 0)) continue;
      const o = 3 * t;
      const along = d[0] * warp[o]! + d[1] * warp[o + 1]! + d[2] * warp[o + 2]!;
      sum += Math.min(1, along ** 2 / lengthSquared);
      count++;
    }
    return count > 0 ? sum / count : 0.5;
  });
}

/** Unit direction of the warp in a triangle, at its three places of `out`. */
function writeWarp(
  rest: Float32Array,
  triangles: Uint32Array,
  uvs: Float32Array | null,
  t: number,
  turn: number,
  out: Float64Array,
): void {
  const corner = (i: number): Vector3 =>
    [0, 1, 2].map((k) => rest[4 * triangles[t + i]! + k]!) as MutableVector3;
  const [a, b, c] = [corner(0), corner(1), corner(2)];
  const u = subtract(b, a);
  const v = subtract(c, a);
  const normal = normalise(cross(u, v));
  let warp: Vector3 = [0, 0, 0];
  if (uvs) {
    const o = 2 * t;
    const [u1, v1] = [uvs[o + 2]! - uvs[o]!, uvs[o + 3]! - uvs[o + 1]!];
    const [u2, v2] = [uvs[o + 4]! - uvs[o]!, uvs[o + 5]! - uvs[o + 1]!];
    const area = u1 * v2 - u2 * v1;
    // How the place changes with V while U stays.
    if (area !== 0) warp = [0, 1, 2].map((k) => (u1 * v[k]! - u2 * u[k]!) / area) as MutableVector3;
  }
  if (!(dot(warp, warp) > 0)) {
    const up: Vector3 = Math.abs(normal[1]) > 0.9 ? [0, 0, 1] : [0, 1, 0];
    warp = [0, 1, 2].map((k) => up[k]! - normal[k]! * dot(up, normal)) as MutableVector3;
  }
  const along = normalise(warp);
  const across = cross(along, normal);
  const [cosine, sine] = [Math.cos(turn), Math.sin(turn)];
  for (let k = 0; k < 3; k++) out[t + k] = cosine * along[k]! + sine * across[k]!;
}
