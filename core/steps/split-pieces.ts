import { numberPieces } from '../mesh/index.ts';
import { type Character, dropUnusedVertices } from '../rig/index.ts';
import { chooseSectionName } from './choose-section-name.ts';
import { createSectionMesh, replaceSection } from './section-mesh.ts';
import { defineStep } from './step-definition.ts';

/** Makes every piece but the largest a section of its own, at the end of the list. */
export function splitPieces(character: Character, sectionIndex: number): Character {
  const section = character.sections[sectionIndex]!;
  const mesh = createSectionMesh(character, sectionIndex);
  const { pieceOfFace, pieceAreas } = numberPieces(mesh);
  let split = character;
  for (let piece = 0; piece < pieceAreas.length; piece++) {
    const corners = Array.from(mesh.triangleOfFace)
      .filter((_, f) => pieceOfFace[f] === piece)
      .flatMap((t) => [...section.triangles.subarray(3 * t, 3 * t + 3)]);
    const part = dropUnusedVertices(section, Uint32Array.from(corners));
    if (piece === 0) split = replaceSection(split, sectionIndex, part);
    else {
      const name = chooseSectionName(split, `${section.name} piece`);
      split = replaceSection(split, split.sections.length, { ...part, name });
    }
  }
  return split;
}

export const splitPiecesStep = defineStep({
  kind: 'splitPieces',
  fields: {},
  describe: () => 'split loose pieces off',
  apply: ({ character, sectionIndex }) => {
    const split = splitPieces(character, sectionIndex);
    const made = Array.from(split.sections.keys()).slice(character.sections.length);
    return { character: split, made };
  },
});
