import type { SectionName } from '../document/index.ts';
import type { Character } from '../rig/index.ts';

/**
 * Place of a section: where it was, if its name still stands there, else the first of its name; -1 when there is none.
 */
export function findSection(
  { sections }: Pick<Character, 'sections'>,
  { sectionIndex, sectionName }: SectionName,
): number {
  if (sections[sectionIndex]?.name === sectionName) return sectionIndex;
  return sections.findIndex((section) => section.name === sectionName);
}

/** A name that no section has yet: the wished one, or with a number. */
export function chooseSectionName({ sections }: Pick<Character, 'sections'>, wished: string): string {
  const taken = new Set(sections.map((section) => section.name));
  let name = wished;
  for (let count = 2; taken.has(name); count++) name = `${wished} ${count}`;
  return name;
}
