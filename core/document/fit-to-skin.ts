import { type BodyShape, fitShape } from '../bodies/index.ts';
import { invertAffine, transformPoint } from '../math/index.ts';
import { bindSection, type Character, Pose } from '../rig/index.ts';
import { listBodySections } from './body-sections.ts';
import type { AuthoredDocument } from './document.ts';
import type { BodyRecord } from './records/index.ts';

/** Fewer vertices say nothing of a shape. */
const LEAST_VERTICES = 12;

/**
 * The shape of a body fitted anew to the skin of its joint: the vertices that the joint moves most, in bind pose.
 *
 * @param hullVertices - Of a hull, at most.
 * @returns In the joint's space, of the kind that the body has.
 * @throws {RangeError} When the joint has too little skin, or none that encloses a space, or is flattened.
 */
export function fitToSkin(
  document: Pick<AuthoredDocument, 'records'>,
  character: Character,
  { jointName, shape }: Pick<BodyRecord, 'jointName' | 'shape'>,
  hullVertices?: number,
): BodyShape {
  const node = character.skeleton.names.indexOf(jointName);
  const skin: number[] = [];
  for (const index of listBodySections(document, character)) {
    const positions = bindSection(character, index);
    for (const v of listVertices(character, index, node)) {
      skin.push(positions[3 * v]!, positions[3 * v + 1]!, positions[3 * v + 2]!);
    }
  }
  if (skin.length < 3 * LEAST_VERTICES) {
    throw new RangeError(
      `Joint "${jointName}" moves ${skin.length / 3} vertices of the skin most; a fit takes ${LEAST_VERTICES}. Choose another joint.`,
    );
  }
  return fitToPlaces(character, { jointName, shape }, Float32Array.from(skin), hullVertices);
}

/**
 * The shape of a body fitted anew to some places of the skin in bind pose.
 *
 * @param places - World space, [n, 3] m. @param hullVertices - Of a hull, at most.
 * @returns In the joint's space, of the kind that the body has.
 * @throws {RangeError} When there are too few places, or the joint is flattened.
 */
export function fitToPlaces(
  character: Character,
  { jointName, shape }: Pick<BodyRecord, 'jointName' | 'shape'>,
  places: Float32Array,
  hullVertices?: number,
): BodyShape {
  const node = character.skeleton.names.indexOf(jointName);
  const pose = new Pose(character);
  pose.setBind();
  const inverse = new Float64Array(16);
  if (node < 0 || !invertAffine(inverse, 0, pose.worldMatrices, 16 * node))
    throw new RangeError(`Joint "${jointName}" is flattened in bind pose: nothing can be fitted on it.`);
  if (places.length < 3 * LEAST_VERTICES)
    throw new RangeError(
      `${places.length / 3} vertices are picked; a fit takes ${LEAST_VERTICES}. Pick more of the skin.`,
    );
  const own = new Float32Array(places.length);
  for (let i = 0; i < places.length; i += 3)
    transformPoint(own, i, inverse, 0, places[i]!, places[i + 1]!, places[i + 2]!);
  return fitShape(own, shape.kind, hullVertices);
}

/** Vertices of a section that a joint has the largest weight of. */
function listVertices(character: Character, index: number, node: number): number[] {
  const { influences, jointIndices, jointWeights, skin, positions } = character.sections[index]!;
  const { joints } = character.skins[skin]!;
  const found: number[] = [];
  for (let v = 0; v < positions.length / 3; v++) {
    let most = v * influences;
    for (let k = most + 1; k < (v + 1) * influences; k++)
      if (jointWeights[k]! > jointWeights[most]!) most = k;
    if (joints[jointIndices[most]!] === node) found.push(v);
  }
  return found;
}
