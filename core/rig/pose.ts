import { composeMatrix, invertAffine, multiplyMatrices } from '../math/index.ts';
import type { Character, Clip, Skeleton } from './character.ts';
import { normaliseQuaternion, sampleTrack } from './sample-track.ts';

/**
 * A pose of one character: local transforms, world matrices of all nodes, and the weights of all morphs.
 * Reused from frame to frame; nothing here allocates after construction.
 */
export class Pose {
  readonly skeleton: Skeleton;
  /** [n, 3], [n, 4], [n, 3], as in `Skeleton`. */
  readonly translations: Float64Array;
  readonly rotations: Float64Array;
  readonly scales: Float64Array;
  /** World matrix of every node, [n, 16] column-major. */
  readonly worldMatrices: Float64Array;
  /** Per section, [morphs]. */
  readonly morphWeights: Float64Array[];
  readonly #character: Character;
  readonly #local = new Float64Array(16);
  readonly #sectionsOfNode: Map<number, number[]>;

  constructor(character: Character) {
    this.#character = character;
    this.skeleton = character.skeleton;
    this.translations = this.skeleton.translations.slice();
    this.rotations = this.skeleton.rotations.slice();
    this.scales = this.skeleton.scales.slice();
    this.worldMatrices = new Float64Array(this.skeleton.names.length * 16);
    this.morphWeights = character.sections.map((section) => Float64Array.from(section.morphWeights));
    this.#sectionsOfNode = new Map();
    character.sections.forEach((section, index) => {
      const list = this.#sectionsOfNode.get(section.node);
      if (list) list.push(index);
      else this.#sectionsOfNode.set(section.node, [index]);
    });
    this.setRest();
  }

  /** The pose that the file's nodes stand in when no clip plays. */
  setRest(): void {
    this.#resetLocal();
    this.updateWorldMatrices();
  }

  /** The pose of a clip at a time in seconds (clamped, not looped). */
  setClip(clip: Clip, time: number): void {
    this.#resetLocal();
    for (const track of clip.tracks) {
      if (track.path === 'translation') sampleTrack(track, time, 3, this.translations, 3 * track.node);
      else if (track.path === 'rotation') sampleTrack(track, time, 4, this.rotations, 4 * track.node);
      else if (track.path === 'scale') sampleTrack(track, time, 3, this.scales, 3 * track.node);
      else {
        for (const section of this.#sectionsOfNode.get(track.node) ?? []) {
          const weights = this.morphWeights[section]!;
          if (weights.length > 0) sampleTrack(track, time, weights.length, weights, 0);
        }
      }
    }
    this.updateWorldMatrices();
  }

  /**
   * The pose that the skins were bound in, whatever the nodes of the file stand in: each joint's matrix is the
   * inverse of its inverse bind matrix, moved as a whole so that the skin's first joint (the one nearest the
   * root) stands where the rest pose has it. A joint bound by several skins follows the first.
   */
  setBind(): void {
    this.setRest();
    const bound = computeBindMatrices(this.#character, this.worldMatrices);
    const { parents } = this.skeleton;
    for (let node = 0; node < parents.length; node++) {
      const matrix = bound.get(node);
      if (matrix) this.worldMatrices.set(matrix, 16 * node);
      else if (parents[node]! >= 0) this.#updateWorldMatrix(node);
    }
  }

  /**
   * Goes over from another pose to this one: translations, scales and morphs by the straight way, rotations by the
   * shorter straight way between quaternions.
   * @param share - 0: as the other; 1: as this one.
   */
  blendFrom(other: Pose, share: number): void {
    const left = 1 - share;
    const mix = (to: Float64Array, from: Float64Array): void => {
      for (let i = 0; i < to.length; i++) to[i] = share * to[i]! + left * from[i]!;
    };
    mix(this.translations, other.translations);
    mix(this.scales, other.scales);
    this.morphWeights.forEach((weights, section) => {
      mix(weights, other.morphWeights[section]!);
    });
    const [to, from] = [this.rotations, other.rotations];
    for (let o = 0; o < to.length; o += 4) {
      const dot =
        to[o]! * from[o]! + to[o + 1]! * from[o + 1]! + to[o + 2]! * from[o + 2]! + to[o + 3]! * from[o + 3]!;
      const sign = dot < 0 ? -left : left;
      for (let k = 0; k < 4; k++) to[o + k] = share * to[o + k]! + sign * from[o + k]!;
      normaliseQuaternion(to, o);
    }
    this.updateWorldMatrices();
  }

  /** World matrices from the local transforms, parents first. */
  updateWorldMatrices(): void {
    for (let node = 0; node < this.skeleton.parents.length; node++) this.#updateWorldMatrix(node);
  }

  /** Moves the whole pose by a vector (used to hold a travelling clip in place). */
  translate(x: number, y: number, z: number): void {
    const w = this.worldMatrices;
    for (let o = 12; o < w.length; o += 16) {
      w[o] = w[o]! + x;
      w[o + 1] = w[o + 1]! + y;
      w[o + 2] = w[o + 2]! + z;
    }
  }

  #updateWorldMatrix(node: number): void {
    const parent = this.skeleton.parents[node]!;
    const local = this.#local;
    composeMatrix(local, 0, this.translations, 3 * node, this.rotations, 4 * node, this.scales, 3 * node);
    if (parent < 0) this.worldMatrices.set(local, 16 * node);
    else multiplyMatrices(this.worldMatrices, 16 * node, this.worldMatrices, 16 * parent, local, 0);
  }

  #resetLocal(): void {
    this.translations.set(this.skeleton.translations);
    this.rotations.set(this.skeleton.rotations);
    this.scales.set(this.skeleton.scales);
    this.#character.sections.forEach((section, index) => {
      this.morphWeights[index]!.set(section.morphWeights);
    });
  }
}

/** World matrix in bind pose of each bound joint. @param restWorld - World matrices of the rest pose. */
function computeBindMatrices(character: Character, restWorld: Float64Array): Map<number, Float64Array> {
  const bound = new Map<number, Float64Array>();
  const anchor = new Float64Array(16);
  for (const skin of character.skins) {
    // Nodes are ordered parents first, so the lowest node is nearest the root.
    let first = 0;
    for (let j = 1; j < skin.joints.length; j++) if (skin.joints[j]! < skin.joints[first]!) first = j;
    multiplyMatrices(anchor, 0, restWorld, 16 * skin.joints[first]!, skin.inverseBinds, 16 * first);
    for (let j = 0; j < skin.joints.length; j++) {
      const node = skin.joints[j]!;
      if (bound.has(node)) continue;
      const bind = new Float64Array(16);
      if (!invertAffine(bind, 0, skin.inverseBinds, 16 * j)) continue;
      const world = new Float64Array(16);
      multiplyMatrices(world, 0, anchor, 0, bind, 0);
      bound.set(node, world);
    }
  }
  return bound;
}
