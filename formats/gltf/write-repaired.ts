import type { Accessor, Document, Node, Primitive } from '@gltf-transform/core';
import type { Character, Section } from '../../core/rig/index.ts';
import { readAccessor } from './read-accessor.ts';
import { areWeightsNormalised, writeClips, writeVectors, writeWeights } from './write-character.ts';

/** A turn that differs by less is the same. */
const TURN_TOLERANCE = 1e-6;

/**
 * Brings a document to what was read of it where the two differ: names, turns of nodes, places, normals, skin weights, clips.
 * What differs is found by comparing them, whatever the reader said that it mended.
 *
 * @param nodes - In the order of the character. @param character - In the units of the file.
 */
export function writeRepaired(document: Document, nodes: Node[], character: Character): void {
  const buffer = document.getRoot().listBuffers()[0]!;
  const { skeleton } = character;
  nodes.forEach((node, i) => {
    if (node.getName() !== skeleton.names[i]) node.setName(skeleton.names[i]!);
    const turn = skeleton.rotations.subarray(4 * i, 4 * i + 4);
    if (node.getRotation().some((value, k) => Math.abs(value - turn[k]!) > TURN_TOLERANCE))
      node.setRotation([...turn] as [number, number, number, number]);
  });
  for (const section of character.sections) {
    const primitive = nodes[section.node]!.getMesh()!.listPrimitives()[section.primitiveIndex]!;
    for (const [attribute, array] of [
      ['POSITION', section.positions],
      ['NORMAL', section.normals],
    ] as const) {
      const written = primitive.getAttribute(attribute);
      if (!written || !isSameArray(readAccessor(written), array))
        writeVectors(document, buffer, primitive, attribute, array);
    }
    if (section.isRigid || (areWeightsNormalised(section) && hasSameWeights(primitive, section))) continue;
    for (const name of primitive.listSemantics())
      if (/^(JOINTS|WEIGHTS)_/.test(name)) primitive.setAttribute(name, null);
    writeWeights(document, buffer, primitive, section);
  }
  if (hasSameClips(document, nodes, character)) return;
  for (const animation of document.getRoot().listAnimations()) {
    for (const part of [...animation.listChannels(), ...animation.listSamplers(), animation]) part.dispose();
  }
  writeClips(document, buffer, character, nodes);
}

function isSameArray(p: ArrayLike<number>, q: ArrayLike<number>): boolean {
  if (p.length !== q.length) return false;
  for (let i = 0; i < p.length; i++) if (!Object.is(p[i]! + 0, q[i]! + 0)) return false;
  return true;
}

/** Whether every vertex says the same: a joint number without weight means nothing. */
function hasSameWeights(primitive: Primitive, section: Section): boolean {
  const { influences, jointIndices, jointWeights } = section;
  const sets: { joints: ArrayLike<number>; weights: Float32Array }[] = [];
  for (let set = 0; ; set++) {
    const [joints, weights] = [
      primitive.getAttribute(`JOINTS_${set}`),
      primitive.getAttribute(`WEIGHTS_${set}`),
    ];
    if (!joints || !weights) break;
    sets.push({ joints: joints.getArray()!, weights: readAccessor(weights) });
  }
  for (let k = 0; k < jointWeights.length; k++) {
    const [vertex, place] = [Math.floor(k / influences), k % influences];
    const set = sets[Math.floor(place / 4)];
    const at = 4 * vertex + (place % 4);
    const weight = set?.weights[at] ?? 0;
    if (weight !== jointWeights[k] || (weight !== 0 && set!.joints[at] !== jointIndices[k])) return false;
  }
  // More than was read would still count for others.
  return sets.slice(influences / 4).every(({ weights }) => weights.every((weight) => weight === 0));
}

function hasSameClips(document: Document, nodes: Node[], { clips }: Character): boolean {
  const animations = document.getRoot().listAnimations();
  const values = new Map<Accessor, Float32Array>();
  const read = (accessor: Accessor | null | undefined): Float32Array => {
    if (!accessor) return new Float32Array(0);
    const known = values.get(accessor) ?? readAccessor(accessor);
    values.set(accessor, known);
    return known;
  };
  if (animations.length !== clips.length) return false;
  return animations.every((animation, a) => {
    const { name, tracks } = clips[a]!;
    const channels = animation.listChannels();
    if (animation.getName() !== name || channels.length !== tracks.length) return false;
    return channels.every((channel, c) => {
      const [track, sampler] = [tracks[c]!, channel.getSampler()];
      return (
        channel.getTargetNode() === nodes[track.node] &&
        channel.getTargetPath() === track.path &&
        sampler?.getInterpolation() === track.interpolation &&
        isSameArray(read(sampler?.getInput()), track.times) &&
        isSameArray(read(sampler?.getOutput()), track.values)
      );
    });
  });
}
