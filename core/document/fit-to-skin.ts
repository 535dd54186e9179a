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
  const pose = new Pose(character);
  pose.setBind();
  const inverse = new Float64Array(16);
  if (node < 0 || !invertAffine(inverse, 0, pose.worldMatrices, 16 * node))
    throw new RangeError(`Joint "${jointName}" is flattened in bind pose: nothing can be fitted on it.`);
  const points: number[] = [];
  const own = new Float64Array(3);
  for (const index of listBodySections(document, character)) {
    const positions = bindSection(character, index);
    for (const v of listVertices(character, index, node)) {
      transformPoint(own, 0, inverse, 0, positions[3 * v]!, positions[3 * v + 1]!, positions[3 * v + 2]!);
      points.push(...own);
    }
  }
  if (points.length < 3 * LEAST_VERTICES) {
    throw new RangeError(
      `Joint "${jointName}" moves ${points.length / 3} vertices of the skin most; a fit takes ${LEAST_VERTICES}. Choose another joint.`,
    );
  }
  return fitShape(Float32Array.from(points), shape.kind, hullVertices);
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
