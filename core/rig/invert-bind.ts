import { invertAffine, transformPoint } from '../math/index.ts';
import type { Character } from './character.ts';
import { Pose } from './pose.ts';
import { computeSkinMatrices } from './skinning.ts';

/**
 * World places of the bind pose in the own space of sections with a skin: the way back from `bindSection`. Where
 * another skin binds the same joints elsewhere, the joint nearest the root counts.
 *
 * @param world - [n, 3] metres. @returns [n, 3].
 * @throws {RangeError} When the skin is bound without a volume.
 */
export function invertBind(character: Character, skinIndex: number, world: Float32Array): Float32Array {
  const skin = character.skins[skinIndex]!;
  const pose = new Pose(character);
  pose.setBind();
  const matrices = computeSkinMatrices(skin, pose.worldMatrices, new Float32Array(16 * skin.joints.length));
  let first = 0;
  for (let j = 1; j < skin.joints.length; j++) if (skin.joints[j]! < skin.joints[first]!) first = j;
  const inverse = new Float64Array(16);
  if (!invertAffine(inverse, 0, matrices, 16 * first))
    throw new RangeError(`skin "${skin.name}" is bound flat`);
  const own = new Float32Array(world.length);
  for (let i = 0; i < world.length; i += 3)
    transformPoint(own, i, inverse, 0, world[i]!, world[i + 1]!, world[i + 2]!);
  return own;
}
