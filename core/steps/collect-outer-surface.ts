import { findInnerSide, judgeSides, listUvSeams, type SidesVerdict, type Surface } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { createSectionMesh } from './section-mesh.ts';

/** What a sim mesh stands for: the outer side alone, both, or the outer where it is certain that there are two. */
export const SIDES = ['judged', 'outer', 'both'] as const;
export type Sides = (typeof SIDES)[number];

export interface OuterSurface extends Surface {
  /** Edges along seams of the UVs, pairs of points. */
  seams: Uint32Array;
}

/** The surface that a sim mesh of some sections stands for: their points joined, without the inner sides. */
export function collectOuterSurface(
  character: Character,
  sectionIndices: readonly number[],
  sides: Sides = 'judged',
): OuterSurface {
  const positions: number[] = [];
  const triangles: number[] = [];
  const seams: number[] = [];
  for (const index of sectionIndices) {
    const mesh = createSectionMesh(character, index);
    const isInner =
      sides === 'both' ? new Uint8Array(mesh.pointCount) : findInnerSide(mesh, sides === 'outer');
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

/** Whether sections have an outer and an inner side: unsure when any of them is. */
export function judgeSectionSides(character: Character, sectionIndices: readonly number[]): SidesVerdict {
  const verdicts = sectionIndices.map((index) => judgeSides(createSectionMesh(character, index)).verdict);
  return (['unsure', 'two'] as const).find((verdict) => verdicts.includes(verdict)) ?? 'one';
}
