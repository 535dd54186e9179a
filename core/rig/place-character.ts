import { quat, vec3 } from 'gl-matrix';
import type { Character, Clip, Section, Skeleton, Skin, Track } from './character.ts';
import { scaleSection } from './file-scales.ts';

/** The side of a file's axes that points up. */
export const UP_AXES = ['+Y', '-Y', '+Z', '-Z', '+X', '-X'] as const;
export type UpAxis = (typeof UP_AXES)[number];

/** How large a file's metre is here, and which of its axes points up. */
export interface Placement {
  scale: number;
  up: UpAxis;
}

/** As files are that keep to the standard. */
export const AS_IN_FILE: Placement = { scale: 1, up: '+Y' };

/** Axis and angle (rad) of the turn that brings each side up. */
const TURNS: Readonly<Record<UpAxis, readonly [axis: [number, number, number], angle: number]>> = {
  '+Y': [[1, 0, 0], 0],
  '-Y': [[1, 0, 0], Math.PI],
  '+Z': [[1, 0, 0], -Math.PI / 2],
  '-Z': [[1, 0, 0], Math.PI / 2],
  '+X': [[0, 0, 1], Math.PI / 2],
  '-X': [[0, 0, 1], -Math.PI / 2],
};

/** The turn of a placement, xyzw. */
export function getPlacementTurn({ up }: Pick<Placement, 'up'>): [number, number, number, number] {
  const [axis, angle] = TURNS[up];
  const [x, y, z, w] = quat.setAxisAngle(quat.create(), axis, angle);
  return [x, y, z, w];
}

/**
 * A character turned and scaled about the origin as a whole, rest pose, clips and all. Its spaces still count in metres: lengths are
 * multiplied everywhere, and only what has no parent is turned.
 *
 * With s and R of the placement: T' = s T (s R T at a root), Q' = R Q at a root, p' = s p, and of bind matrices the translation times s.
 * Then W' B' p' = s R W B p. Ours.
 *
 * @returns The same character when nothing is to be done. O(size of the character).
 */
export function placeCharacter(character: Character, placement: Placement): Character {
  const { scale } = placement;
  const turn = quat.fromValues(...getPlacementTurn(placement));
  const isTurned = turn[3] !== 1;
  if (scale === 1 && !isTurned) return character;
  const { skeleton, skins, sections, clips } = character;
  return {
    ...character,
    skeleton: placeSkeleton(skeleton, scale, turn),
    skins: scale === 1 ? skins : skins.map((skin) => scaleSkin(skin, scale)),
    sections: scale === 1 ? sections : sections.map((section) => placeSection(section, scale)),
    clips: clips.map((clip) => placeClip(clip, skeleton, scale, turn)),
  };
}

function placeSkeleton(skeleton: Skeleton, scale: number, turn: quat): Skeleton {
  const translations = skeleton.translations.map((value) => scale * value);
  const rotations = skeleton.rotations.slice();
  skeleton.parents.forEach((parent, node) => {
    if (parent >= 0) return;
    turnVectors(translations.subarray(3 * node, 3 * node + 3), turn);
    turnQuaternions(rotations.subarray(4 * node, 4 * node + 4), turn);
  });
  return { ...skeleton, translations, rotations };
}

function placeClip(clip: Clip, { parents }: Skeleton, scale: number, turn: quat): Clip {
  const tracks = clip.tracks.map((track): Track => {
    const isRoot = parents[track.node]! < 0;
    if (track.path === 'translation') {
      const values = track.values.map((value) => scale * value);
      if (isRoot) turnVectors(values, turn);
      return { ...track, values };
    }
    if (track.path !== 'rotation' || !isRoot) return track;
    const values = track.values.slice();
    turnQuaternions(values, turn);
    return { ...track, values };
  });
  return { ...clip, tracks };
}

/** @param values - [n, 3], changed. */
function turnVectors(values: Float32Array | Float64Array, turn: quat): void {
  for (let i = 0; i < values.length; i += 3)
    values.set(vec3.transformQuat(vec3.create(), [values[i]!, values[i + 1]!, values[i + 2]!], turn), i);
}

/** Tangents of cubic keys are turned as the keys are: it is linear. @param values - [n, 4], changed. */
function turnQuaternions(values: Float32Array | Float64Array, turn: quat): void {
  for (let i = 0; i < values.length; i += 4)
    values.set(
      quat.multiply(quat.create(), turn, [values[i]!, values[i + 1]!, values[i + 2]!, values[i + 3]!]),
      i,
    );
}

function scaleSkin(skin: Skin, scale: number): Skin {
  const isOffset = (i: number): boolean => i % 16 >= 12 && i % 16 < 15;
  return {
    ...skin,
    inverseBinds: skin.inverseBinds.map((value, i) => (isOffset(i) ? scale * value : value)),
  };
}

function placeSection(section: Section, scale: number): Section {
  const { restPositions } = section;
  return {
    ...scaleSection(section, scale),
    ...(restPositions && { restPositions: restPositions.map((value) => scale * value) }),
  };
}
