import type { Character } from './character.ts';

/** Values of morph targets by name, 0: as the file has it without them, 1: all of the target. */
export type MorphValues = Readonly<Record<string, number>>;

/** Names of the morph targets of some sections, in the order in which they first come. */
export function listMorphNames({ sections }: Pick<Character, 'sections'>): string[] {
  return [...new Set(sections.flatMap(({ morphs }) => morphs.map(({ name }) => name)))];
}

/**
 * A character whose morph targets stand at other values, in all sections that have them; clips that drive a target go on
 * driving it. Shares every array, and is the same character when no value differs.
 */
export function shapeCharacter(character: Character, shape: MorphValues): Character {
  let isSame = true;
  const sections = character.sections.map((section) => {
    const weights = Float32Array.from(
      section.morphs,
      ({ name }, m) => shape[name] ?? section.morphWeights[m] ?? 0,
    );
    if (weights.every((weight, m) => weight === section.morphWeights[m])) return section;
    isSame = false;
    return { ...section, morphWeights: weights };
  });
  return isSame ? character : { ...character, sections };
}
