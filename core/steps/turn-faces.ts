import { listFlippedFaces } from '../mesh/index.ts';
import type { Character, Section } from '../rig/index.ts';
import { createSectionMesh } from './section-mesh.ts';
import { defineStep, replaceOwn } from './step-definition.ts';

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

export const turnFacesStep = defineStep({
  kind: 'turnFaces',
  fields: {},
  describe: () => 'flip triangles',
  apply: (context) => replaceOwn(context, turnFaces(context.character, context.sectionIndex)),
});
