import type { Character, Clip } from './character.ts';

export interface AdoptedClips {
  /** The clips with their tracks on the nodes of the character. */
  clips: Clip[];
  /** Moved joints that the character does not have, each once. */
  lostJoints: string[];
  /** Joints found by name, of those that the clips move. */
  foundJoints: number;
}

/**
 * Clips of another character on the same skeleton, its joints matched by name. Tracks of joints that are not there, and
 * of morph weights, are left out. A clip whose name is taken gets a number behind it.
 */
export function adoptClips(character: Character, other: Character): AdoptedClips {
  const nodeOf = new Map(character.skeleton.names.map((name, node) => [name, node]));
  const lost = new Set<string>();
  const found = new Set<string>();
  const taken = new Set(character.clips.map(({ name }) => name));
  const clips = other.clips.map(({ name, tracks, ...clip }): Clip => {
    const own = tracks.flatMap((track) => {
      if (track.path === 'weights') return [];
      const joint = other.skeleton.names[track.node]!;
      const node = nodeOf.get(joint);
      (node === undefined ? lost : found).add(joint);
      return node === undefined ? [] : [{ ...track, node }];
    });
    return { ...clip, name: chooseName(name, taken), tracks: own };
  });
  return { clips, lostJoints: [...lost], foundJoints: found.size };
}

function chooseName(name: string, taken: Set<string>): string {
  let chosen = name;
  for (let n = 2; taken.has(chosen); n++) chosen = `${name} (${n})`;
  taken.add(chosen);
  return chosen;
}
