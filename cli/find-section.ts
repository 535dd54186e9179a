import type { Character } from '../core/rig/index.ts';
import { UsageError } from './usage-error.ts';

/** Place of the section of a name. @throws {UsageError} that lists what there is. */
export function requireSection({ sections }: Character, name: string): number {
  const index = sections.findIndex((section) => section.name === name);
  if (index >= 0) return index;
  const list = sections.map((section) => `  ${section.name}`).join('\n');
  throw new UsageError(`there is no section "${name}". There are:\n${list}`);
}
