import type { Section } from '../rig/index.ts';
import type { SectionName } from './records.ts';

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
