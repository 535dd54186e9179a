import type { Character } from './character.ts';
import { restoreScales } from './file-scales.ts';

type Quaternion = readonly [x: number, y: number, z: number, w: number];

function multiply(p: Quaternion, q: ArrayLike<number>, at: number): Quaternion {
  const [x, y, z, w] = [q[at]!, q[at + 1]!, q[at + 2]!, q[at + 3]!];
  return [
    p[3] * x + p[0] * w + p[1] * z - p[2] * y,
    p[3] * y - p[0] * z + p[1] * w + p[2] * x,
    p[3] * z + p[0] * y - p[1] * x + p[2] * w,
    p[3] * w - p[0] * x - p[1] * y - p[2] * z,
  ];
}

function turn(q: Quaternion, v: ArrayLike<number>, at: number): number[] {
  const [x, y, z] = multiply(
    multiply(q, [v[at]!, v[at + 1]!, v[at + 2]!, 0], 0),
    [-q[0], -q[1], -q[2], q[3]],
    0,
  );
  return [x, y, z];
}

/**
 * The same character, moving the same, as an export of another program might have it: below a node that is turned and
 * scaled, everything under it in units of `scale` metres.
 */
export function hangBelowArmature(character: Character, scale: number, armature: Quaternion): Character {
  const back: Quaternion = [-armature[0], -armature[1], -armature[2], armature[3]];
  const { skeleton } = character;
  const isRoot = (node: number): boolean => skeleton.parents[node]! < 0;
  const translations = skeleton.translations.slice();
  const rotations = skeleton.rotations.slice();
  skeleton.names.forEach((_, node) => {
    if (!isRoot(node)) return;
    translations.set(turn(back, translations, 3 * node), 3 * node);
    rotations.set(multiply(back, rotations, 4 * node), 4 * node);
  });
  const below: Character = {
    ...character,
    skeleton: {
      names: ['armature', ...skeleton.names],
      parents: Int32Array.of(-1, ...skeleton.parents.map((parent) => parent + 1)),
      translations: Float64Array.of(0, 0, 0, ...translations),
      rotations: Float64Array.of(...armature, ...rotations),
      scales: Float64Array.of(1, 1, 1, ...skeleton.scales),
    },
    skins: character.skins.map((skin) => ({ ...skin, joints: skin.joints.map((node) => node + 1) })),
    sections: character.sections.map((section) => ({ ...section, node: section.node + 1 })),
    clips: character.clips.map((clip) => ({
      ...clip,
      tracks: clip.tracks.map((track) => {
        const width = track.path === 'rotation' ? 4 : 3;
        const values = track.values.slice();
        if (isRoot(track.node) && (track.path === 'rotation' || track.path === 'translation')) {
          for (let at = 0; at < values.length; at += width)
            values.set(width === 4 ? multiply(back, values, at) : turn(back, values, at), at);
        }
        return { ...track, node: track.node + 1, values };
      }),
    })),
  };
  return restoreScales(below, {
    nodes: new Float64Array(below.skeleton.names.length).fill(scale),
    skins: new Float64Array(below.skins.length).fill(scale),
  });
}
