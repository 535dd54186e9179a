import type { Character } from '../../core/rig/index.ts';
import type { PreviewFrame } from '../state/preview-client.ts';
import type { Floor } from './floor.ts';

/** Moves the floor under a figure that stays in the middle, as its clip travels. */
export class FigureGround {
  readonly #floor: Floor;
  #character: Character | null = null;
  #middleJoint = -1;

  constructor(floor: Floor) {
    this.#floor = floor;
  }

  /** @param nodes - World matrices of all nodes, [n, 16]. @param travel - Metres in one round of the clip, [x, z]. */
  update(
    character: Character,
    { clip, time }: PreviewFrame,
    nodes: Float32Array,
    [x, z]: readonly [number, number],
  ): void {
    if (character.skeleton !== this.#character?.skeleton) this.#middleJoint = findMiddleJoint(character);
    this.#character = character;
    const duration = character.clips[clip]?.duration ?? 0;
    const share = duration > 0 ? time / duration : 0;
    const o = 16 * this.#middleJoint;
    this.#floor.update(x * share, z * share, nodes[o + 12]!, nodes[o + 14]!);
  }
}

/** The joint that most of the skeleton hangs from below the root: its place is where the figure stands. */
function findMiddleJoint({ skins, sections, skeleton }: Character): number {
  const skin = skins[sections[0]!.skin]!;
  const joints = new Set(skin.joints);
  const forks = [...joints].find(
    (joint) => skeleton.parents.filter((parent, child) => parent === joint && joints.has(child)).length > 1,
  );
  return forks ?? skin.joints[0]!;
}
