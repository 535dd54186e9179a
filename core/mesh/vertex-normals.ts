import { type MutableVector3, writeTriangleCross } from '../math/index.ts';
/**
 * Area-weighted normals of points, unit length; (0, 1, 0) where a point has no area around it.
 *
 * @param positions - [n, stride], xyz first.
 * @param triangles - [t, 3], counter-clockwise seen from outside.
 * @param outNormals - [n, 3], overwritten and returned.
 */
export function computeVertexNormals(
  positions: Float32Array,
  triangles: Uint32Array,
  outNormals: Float32Array,
  stride = 3,
): Float32Array {
  outNormals.fill(0);
  const normal: MutableVector3 = [0, 0, 0];
  for (let t = 0; t < triangles.length; t += 3) {
    const ia = triangles[t]!;
    const ib = triangles[t + 1]!;
    const ic = triangles[t + 2]!;
    const a = stride * ia;
    const b = stride * ib;
    const c = stride * ic;
    writeTriangleCross(positions, a, b, c, normal);
    const nx = normal[0];
    const ny = normal[1];
    const nz = normal[2];
    addTo(outNormals, 3 * ia, nx, ny, nz);
    addTo(outNormals, 3 * ib, nx, ny, nz);
    addTo(outNormals, 3 * ic, nx, ny, nz);
  }
  for (let i = 0; i < outNormals.length; i += 3) {
    const x = outNormals[i]!;
    const y = outNormals[i + 1]!;
    const z = outNormals[i + 2]!;
    const length = Math.sqrt(x * x + y * y + z * z);
    if (length > 0) {
      outNormals[i] = x / length;
      outNormals[i + 1] = y / length;
      outNormals[i + 2] = z / length;
    } else {
      outNormals[i + 1] = 1;
    }
  }
  return outNormals;
}

function addTo(rows: Float32Array, o: number, x: number, y: number, z: number): void {
  rows[o] = rows[o]! + x;
  rows[o + 1] = rows[o + 1]! + y;
  rows[o + 2] = rows[o + 2]! + z;
}
