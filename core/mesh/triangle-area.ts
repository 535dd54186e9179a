/** Area of each triangle, m². @param positions - [n, stride], xyz first. @returns [t]. */
export function computeTriangleAreas(
  positions: Float32Array,
  triangles: Uint32Array,
  stride = 3,
): Float32Array {
  const areas = new Float32Array(triangles.length / 3);
  for (let t = 0; t < areas.length; t++) {
    const a = stride * triangles[3 * t]!;
    const b = stride * triangles[3 * t + 1]!;
    const c = stride * triangles[3 * t + 2]!;
    const ux = positions[b]! - positions[a]!;
    const uy = positions[b + 1]! - positions[a + 1]!;
    const uz = positions[b + 2]! - positions[a + 2]!;
    const vx = positions[c]! - positions[a]!;
    const vy = positions[c + 1]! - positions[a + 1]!;
    const vz = positions[c + 2]! - positions[a + 2]!;
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    areas[t] = Math.sqrt(nx * nx + ny * ny + nz * nz) / 2;
  }
  return areas;
}
