import type { CheckedMesh, Surface } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { createSectionMesh } from './section-mesh.ts';

/** One section's part of what is collected. */
export interface CollectedPart {
  mesh: CheckedMesh;
  /** Points of the mesh that are there → their numbers in the whole. */
  numbers: ReadonlyMap<number, number>;
}

/**
 * Faces of some sections in bind pose as one surface, their points joined within each section.
 *
 * @param createTest - Of a section, whether a face of its mesh is wanted.
 * @returns World space, m; and the parts in the order of the sections.
 */
export function collectFaces(
  character: Character,
  sectionIndices: readonly number[],
  createTest: (mesh: CheckedMesh, sectionIndex: number) => (face: number) => boolean,
): { surface: Surface; parts: CollectedPart[] } {
  const positions: number[] = [];
  const triangles: number[] = [];
  const parts = sectionIndices.map((index): CollectedPart => {
    const mesh = createSectionMesh(character, index);
    const isWanted = createTest(mesh, index);
    const numbers = new Map<number, number>();
    for (let f = 0; f < mesh.faces.length / 3; f++) {
      if (!isWanted(f)) continue;
      for (const point of mesh.faces.subarray(3 * f, 3 * f + 3)) {
        let number = numbers.get(point);
        if (number === undefined) {
          number = positions.length / 3;
          numbers.set(point, number);
          positions.push(...mesh.pointPositions.subarray(3 * point, 3 * point + 3));
        }
        triangles.push(number);
      }
    }
    return { mesh, numbers };
  });
  return {
    surface: { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) },
    parts,
  };
}
