import type { Section } from './character.ts';

/** A section by its place in the character, with its name, to find it again when places have changed. */
export interface SectionName {
  sectionIndex: number;
  sectionName: string;
}

/**
 * Place of a section: where it was, if its name still stands there, else the first of its name; -1 when there is none.
 */
export function findSection(
  { sections }: { sections: readonly Pick<Section, 'name'>[] },
  { sectionIndex, sectionName }: SectionName,
): number {
  if (sections[sectionIndex]?.name === sectionName) return sectionIndex;
  return sections.findIndex((section) => section.name === sectionName);
}
