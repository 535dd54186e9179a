import type { Character } from '../core/rig/index.ts';
import { UsageError } from './usage-error.ts';

/** Places of clips by their names, comma between; without any of all. @throws {UsageError} When there is none of a name. */
export function findClips({ clips }: Character, names: string | undefined): number[] {
  if (clips.length === 0) throw new UsageError('the character has no clips to simulate.');
  if (names === undefined) return [...clips.keys()];
  return names.split(',').map((name) => {
    const index = clips.findIndex((clip) => clip.name === name.trim());
    if (index < 0) {
      const known = clips.map((clip) => clip.name).join(', ');
      throw new UsageError(`there is no clip "${name.trim()}"; there are ${known}.`);
    }
    return index;
  });
}
