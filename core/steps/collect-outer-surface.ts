import { findInnerSide, judgeSides, listUvSeams, type SidesVerdict, type Surface } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { collectFaces } from './collect-faces.ts';
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
  const { surface, parts } = collectFaces(character, sectionIndices, (mesh) => {
    const isInner = sides === 'both' ? null : findInnerSide(mesh, sides === 'outer');
    return (face) =>
      !isInner || mesh.faces.subarray(3 * face, 3 * face + 3).every((point) => !isInner[point]);
  });
  const seams: number[] = [];
  for (const { mesh, numbers } of parts) {
    const ofMesh = listUvSeams(mesh);
    for (let i = 0; i < ofMesh.length; i += 2) {
      const [a, b] = [numbers.get(ofMesh[i]!), numbers.get(ofMesh[i + 1]!)];
      if (a !== undefined && b !== undefined) seams.push(a, b);
    }
  }
  return { ...surface, seams: Uint32Array.from(seams) };
}

/** Whether sections have an outer and an inner side: unsure when any of them is. */
export function judgeSectionSides(character: Character, sectionIndices: readonly number[]): SidesVerdict {
  const verdicts = sectionIndices.map((index) => judgeSides(createSectionMesh(character, index)).verdict);
  return (['unsure', 'two'] as const).find((verdict) => verdicts.includes(verdict)) ?? 'one';
}
