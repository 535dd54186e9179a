import type { Character } from '../core/rig/index.ts';
import { UsageError } from './usage-error.ts';

/** Place of the section of a name. @throws {UsageError} that lists what there is. */
export function requireSection({ sections }: Character, name: string): number {
  const index = sections.findIndex((section) => section.name === name);
  if (index >= 0) return index;
  const list = sections.map((section) => `  ${section.name}`).join('\n');
  throw new UsageError(`there is no section "${name}". There are:\n${list}`);
}

/** Place of the section of a name, or of the only one when none is named. @throws {UsageError} that lists what there is. */
export function chooseSection(character: Character, name: string | undefined): number {
  if (name !== undefined) return requireSection(character, name);
  if (character.sections.length === 1) return 0;
  const list = character.sections.map((section) => `  ${section.name}`).join('\n');
  throw new UsageError(`name one with --section. There are:\n${list}`);
}
