import { findInnerSide, listUvSeams, type Surface } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { createSectionMesh } from './section-mesh.ts';

/** The surface that a sim mesh of some sections stands for: their points joined, without the inner sides. */
export function collectOuterSurface(
  character: Character,
  sectionIndices: readonly number[],
): Surface & { /** Edges along seams of the UVs, pairs of points. */ seams: Uint32Array } {
  const positions: number[] = [];
  const triangles: number[] = [];
  const seams: number[] = [];
  for (const index of sectionIndices) {
    const mesh = createSectionMesh(character, index);
    const isInner = findInnerSide(mesh);
    const numbers = new Map<number, number>();
    for (let i = 0; i < mesh.faces.length; i += 3) {
      const corners = [0, 1, 2].map((k) => mesh.faces[i + k]!);
      if (corners.some((point) => isInner[point])) continue;
      for (const point of corners) {
        let number = numbers.get(point);
        if (number === undefined) {
          number = positions.length / 3;
          numbers.set(point, number);
          positions.push(...mesh.pointPositions.subarray(3 * point, 3 * point + 3));
        }
        triangles.push(number);
      }
    }
    const ofMesh = listUvSeams(mesh);
    for (let i = 0; i < ofMesh.length; i += 2) {
      const [a, b] = [numbers.get(ofMesh[i]!), numbers.get(ofMesh[i + 1]!)];
      if (a !== undefined && b !== undefined) seams.push(a, b);
    }
  }
  return {
    positions: Float32Array.from(positions),
    triangles: Uint32Array.from(triangles),
    seams: Uint32Array.from(seams),
  };
}
