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

/** What of a character is no section: its joints and how they move. */
export type Rig = Pick<Character, 'skeleton' | 'skins' | 'clips'>;

const rigTwins = new WeakMap<Rig['skeleton'], Rig>();

/** The joints and clips of a character, ready to cross to other threads by reference. */
export function shareRig({ skeleton, skins, clips }: Rig): Rig {
  if (isShared(skeleton.translations)) return { skeleton, skins, clips };
  const known = rigTwins.get(skeleton);
  if (known) return known;
  // Joints are placed together with all else: the skeleton tells them apart.
  const twin = shareArrays({ skeleton, skins, clips });
  rigTwins.set(skeleton, twin);
  return twin;
}

/** A character with other joints and clips; those it has when there are none. */
export function adoptRig(character: Character, rig: Rig | null | undefined): Character {
  return rig ? { ...character, skeleton: rig.skeleton, skins: rig.skins, clips: rig.clips } : character;
}

/** Whether two rigs are the same, number for number. */
export function isSameRig(one: Rig, other: Rig): boolean {
  if (one.skeleton === other.skeleton && one.clips === other.clips) return true;
  const list = ({ skeleton, skins, clips }: Rig): ArrayLike<number>[] => [
    skeleton.translations,
    skeleton.rotations,
    skeleton.scales,
    ...skins.map(({ inverseBinds }) => inverseBinds),
    ...clips.flatMap(({ tracks }) => tracks.map(({ values }) => values)),
  ];
  const [ours, theirs] = [list(one), list(other)];
  return (
    ours.length === theirs.length &&
    ours.every((values, a) => {
      const others = theirs[a]!;
      if (values.length !== others.length) return false;
      for (let i = 0; i < values.length; i++) if (values[i] !== others[i]) return false;
      return true;
    })
  );
}
