import { listCrossedDiagonals } from '../mesh/index.ts';
import type { Character, Section } from '../rig/index.ts';
import { flipDiagonal } from './flip-diagonal.ts';
import { createSectionMesh } from './section-mesh.ts';
import { defineStep, replaceOwn } from './step-definition.ts';

/** Cuts the squares of the inner side of a garment along the same diagonals as those of the outer. */
export function alignDiagonals(character: Character, sectionIndex: number): Section {
  const section = character.sections[sectionIndex]!;
  const mesh = createSectionMesh(character, sectionIndex);
  const triangles = section.triangles.slice();
  const { edges } = mesh.table;
  for (const e of listCrossedDiagonals(mesh)) flipDiagonal(triangles, mesh, edges[2 * e]!, edges[2 * e + 1]!);
  return { ...section, triangles };
}

export const alignDiagonalsStep = defineStep({
  kind: 'alignDiagonals',
  fields: {},
  describe: () => 'align diagonals',
  apply: (context) => replaceOwn(context, alignDiagonals(context.character, context.sectionIndex)),
});
