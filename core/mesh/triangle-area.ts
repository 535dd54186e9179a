import { type MutableVector3, writeTriangleCross } from '../math/index.ts';
/** Area of each triangle, m². @param positions - [n, stride], xyz first. @returns [t]. */
export function computeTriangleAreas(
  positions: Float32Array,
  triangles: Uint32Array,
  stride = 3,
): Float32Array {
  const normal: MutableVector3 = [0, 0, 0];
  const areas = new Float32Array(triangles.length / 3);
  for (let t = 0; t < areas.length; t++) {
    const a = stride * triangles[3 * t]!;
    const b = stride * triangles[3 * t + 1]!;
    const c = stride * triangles[3 * t + 2]!;
    const [nx, ny, nz] = writeTriangleCross(positions, a, b, c, normal);
    areas[t] = Math.sqrt(nx * nx + ny * ny + nz * nz) / 2;
  }
  return areas;
}
