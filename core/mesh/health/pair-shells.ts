import { computeVertexNormals } from '../vertex-normals.ts';
import type { CheckedMesh } from './checked-mesh.ts';

/** The two sides of a garment lie at most this share of the spacing apart. */
const THICKNESS_SHARE = 1.2;
/** Normals of two sides: at least so opposed. Cosine. */
const OPPOSED = -0.5;

/**
 * The points of a two-sided garment's two shells that lie over each other: nearest to each other among those that
 * face the other way, with the partner behind.
 *
 * @returns point → partner, -1 without one. [points]
 */
export function pairShells(
  mesh: Pick<CheckedMesh, 'pointPositions' | 'faces' | 'pointCount' | 'spacing'>,
): Int32Array {
  const { pointPositions: positions, faces, pointCount, spacing } = mesh;
  const normals = computeVertexNormals(positions, faces, new Float32Array(positions.length));
  const reach = THICKNESS_SHARE * spacing;
  const grid = new Map<string, number[]>();
  const cell = (point: number, k: number): number => Math.floor(positions[3 * point + k]! / reach);
  for (let p = 0; p < pointCount; p++) {
    const key = `${cell(p, 0)},${cell(p, 1)},${cell(p, 2)}`;
    const list = grid.get(key);
    if (list) list.push(p);
    else grid.set(key, [p]);
  }
  const nearest = new Int32Array(pointCount).fill(-1);
  for (let p = 0; p < pointCount; p++) {
    let best = reach * reach;
    for (let i = 0; i < 27; i++) {
      const key = `${cell(p, 0) + (i % 3) - 1},${cell(p, 1) + (Math.floor(i / 3) % 3) - 1},${cell(p, 2) + Math.floor(i / 9) - 1}`;
      for (const q of grid.get(key) ?? []) {
        const displacement = [0, 1, 2].map((k) => positions[3 * q + k]! - positions[3 * p + k]!);
        const squared = displacement[0]! ** 2 + displacement[1]! ** 2 + displacement[2]! ** 2;
        if (q === p || squared >= best) continue;
        const facing = [0, 1, 2].reduce((sum, k) => sum + normals[3 * p + k]! * normals[3 * q + k]!, 0);
        const behind = [0, 1, 2].reduce((sum, k) => sum + normals[3 * p + k]! * displacement[k]!, 0);
        if (facing > OPPOSED || behind >= 0) continue;
        best = squared;
        nearest[p] = q;
      }
    }
  }
  return nearest.map((q, p) => (q >= 0 && nearest[q] === p ? q : -1));
}
