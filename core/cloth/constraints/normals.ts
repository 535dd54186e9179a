import { type MutableVector3, writeTriangleCross } from '../../math/index.ts';
import type { SolverState } from '../solver-state.ts';

/** Area-weighted unit normals of points, 0 where there is no area. @param positions, outNormals - [n, 4]. */
export function updateNormals(
  positions: Float32Array,
  triangles: Uint32Array,
  outNormals: Float32Array,
): void {
  outNormals.fill(0);
  const n: MutableVector3 = [0, 0, 0];
  for (let t = 0; t < triangles.length; t += 3) {
    const a = 4 * triangles[t]!;
    const b = 4 * triangles[t + 1]!;
    const c = 4 * triangles[t + 2]!;
    writeTriangleCross(positions, a, b, c, n);
    for (const o of [a, b, c]) {
      for (let k = 0; k < 3; k++) outNormals[o + k] = outNormals[o + k]! + n[k]!;
    }
  }
  for (let o = 0; o < outNormals.length; o += 4) {
    const x = outNormals[o]!;
    const y = outNormals[o + 1]!;
    const z = outNormals[o + 2]!;
    const length = Math.sqrt(x * x + y * y + z * z);
    const scale = length > 0 ? 1 / length : 0;
    for (let k = o; k < o + 3; k++) outNormals[k] = outNormals[k]! * scale;
  }
}

/**
 * Places the sphere of each inward limit: its surface lies the depth below the skinned place along the skinned normal
 * as it is at the end of the frame.
 */
export function updateInward(state: SolverState, pointCount: number): void {
  const { nextTargets, targetNormals, triangles, inward, inwardDepths } = state;
  updateNormals(nextTargets, triangles, targetNormals);
  for (let i = 0; i < pointCount; i++) {
    const o = 4 * i;
    if (inward[o + 3]! < 0) continue;
    const back = -(inwardDepths[i]! + inward[o + 3]!);
    for (let k = 0; k < 3; k++) inward[o + k] = back * targetNormals[o + k]!;
  }
}
