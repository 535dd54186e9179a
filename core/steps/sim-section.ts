import type { Surface } from '../mesh/index.ts';
import { type Character, findSection, type Section, type SectionName } from '../rig/index.ts';
import { chooseSectionName } from './choose-section-name.ts';
import { resampleSection } from './resample-section.ts';
import { replaceSection } from './section-mesh.ts';
import type { StepContext, StepResult } from './step-definition.ts';

/** The section that is simulated: the surface with skin weights, UVs and morphs of the sections that it stands for. */
export function createSimSection(
  character: Character,
  sectionIndices: readonly number[],
  surface: Surface,
): Section {
  const first = character.sections[sectionIndices[0]!]!;
  return {
    ...resampleSection(character, sectionIndices, surface, { skipsInside: true }),
    name: chooseSectionName(character, `${first.name} sim`),
    isSimMesh: true,
  };
}

/**
 * Places of the sections that a sim mesh stands for, that of the step first.
 * @throws {RangeError} When one is not there.
 */
export function findStoodFor(
  { character, sectionIndex }: Pick<StepContext, 'character' | 'sectionIndex'>,
  others: readonly SectionName[],
): number[] {
  const indices = others.map((other) => {
    const index = findSection(character, other);
    if (index < 0) throw new RangeError(`there is no section "${other.sectionName}"`);
    return index;
  });
  return [sectionIndex, ...indices];
}

/** The character with the sim mesh of some sections at its end. */
export function addSimSection(
  character: Character,
  sectionIndices: readonly number[],
  surface: Surface,
): StepResult {
  const made = character.sections.length;
  const section = createSimSection(character, sectionIndices, surface);
  return { character: replaceSection(character, made, section), made: [made] };
}
