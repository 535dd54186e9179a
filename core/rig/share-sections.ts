import type { Character, Section } from './character.ts';
import { hashSection, rememberHash } from './hash-section.ts';
import { isShared, shareArrays } from './share-arrays.ts';

/** A section as it crosses to another thread: named by its content, its arrays in memory that both threads see. */
export interface SharedSection {
  hash: string;
  section: Section;
}

const twins = new WeakMap<Section, Section>();

/**
 * The sections of a character, ready to cross to other threads by reference. A section that stands in shared memory
 * already is taken as it is, and of any other one copy is made and remembered: what did not change is not copied again.
 * Where there is no shared memory (a page without isolation) the arrays stay what they are, and are copied on crossing.
 *
 * Nobody writes to the arrays of a section once it is shared.
 */
export function shareSections({ sections }: Pick<Character, 'sections'>): SharedSection[] {
  return sections.map((section) => ({ hash: hashSection(section), section: shareSection(section) }));
}

/**
 * A character with sections that crossed from another thread. Those whose content it has already stay the very objects
 * that they are, so that whatever was made of them is found again.
 */
export function adoptSections(character: Character, shared: readonly SharedSection[]): Character {
  const known = new Map(character.sections.map((section) => [hashSection(section), section]));
  return {
    ...character,
    sections: shared.map(({ hash, section }) => {
      const found = known.get(hash);
      if (found) return found;
      rememberHash(section, hash);
      return section;
    }),
  };
}

function shareSection(section: Section): Section {
  if (isShared(section.positions)) return section;
  let twin = twins.get(section);
  if (!twin) {
    twin = shareArrays(section);
    rememberHash(twin, hashSection(section));
    twins.set(section, twin);
  }
  return twin;
}
