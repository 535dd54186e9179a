import { listCrossedDiagonals, listFlippedFaces } from '../../mesh/index.ts';
import type { Character, Section } from '../../rig/index.ts';
import { createSectionMesh } from '../section-mesh.ts';
import { flipDiagonal } from './flip-diagonal.ts';

/** Turns faces that face the other way than most of their piece. */
export function turnFaces(character: Character, sectionIndex: number): Section {
  const section = character.sections[sectionIndex]!;
  const mesh = createSectionMesh(character, sectionIndex);
  const triangles = section.triangles.slice();
  for (const f of listFlippedFaces(mesh)) {
    const t = 3 * mesh.triangleOfFace[f]!;
    [triangles[t + 1], triangles[t + 2]] = [triangles[t + 2]!, triangles[t + 1]!];
  }
  return { ...section, triangles };
}

/** Cuts the squares of the inner side of a garment along the same diagonals as those of the outer. */
export function alignDiagonals(character: Character, sectionIndex: number): Section {
  const section = character.sections[sectionIndex]!;
  const mesh = createSectionMesh(character, sectionIndex);
  const triangles = section.triangles.slice();
  const { edges } = mesh.table;
  for (const e of listCrossedDiagonals(mesh)) flipDiagonal(triangles, mesh, edges[2 * e]!, edges[2 * e + 1]!);
  return { ...section, triangles };
}
