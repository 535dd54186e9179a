import type { Character } from '../../rig/index.ts';
import { type AuthoredDocument, listBodies } from '../document.ts';
import type { BodyRecord, BodySetRecord } from '../records/index.ts';
import { BODY_SET_FORMAT, BODY_SET_VERSION, type BodySetFile } from './body-set-format.ts';
import { measureBones } from './measure-bone.ts';

/**
 * A body set as a file that another character can take over, without meshes, which are this one's own. Numbers are to the last digit.
 * @param isWanted - Bodies that go along; without it all.
 */
export function writeBodySet(
  document: Pick<AuthoredDocument, 'records'>,
  character: Character,
  set: BodySetRecord,
  isWanted: (body: BodyRecord) => boolean = () => true,
): BodySetFile {
  const bones = measureBones(character);
  return {
    format: BODY_SET_FORMAT,
    version: BODY_SET_VERSION,
    name: set.name,
    follows: set.follows,
    bodies: listBodies(document, set.id, character.skeleton)
      .filter(isWanted)
      .map(({ name, jointName, margin, group, shape }) => ({
        name,
        joint: jointName,
        boneLength: bones.get(jointName) ?? 0,
        margin,
        group,
        shape,
      })),
  };
}
