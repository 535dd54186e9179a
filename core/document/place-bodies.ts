import { type CollisionShape, meetShape } from '../bodies/index.ts';
import { type Character, findSection } from '../rig/index.ts';
import { type AuthoredDocument, listBodies, listBodyMeshes } from './document.ts';
import { followBodyShape, type ShapedCharacter } from './follow-body-shape.ts';
import {
  type BodyFollows,
  type BodyMeshRecord,
  type BodyRecord,
  type GarmentLevel,
  type GarmentRecord,
  groupBit,
  type RecordId,
} from './records/index.ts';

/** Bodies of a set as they are in the body shape of a character: see `followBodyShape`, and `listBodies` for their order. */
export function listFollowingBodies(
  document: Pick<AuthoredDocument, 'records'>,
  bodySetId: RecordId,
  { base, shaped }: ShapedCharacter,
): BodyRecord[] {
  const bodies = listBodies(document, bodySetId, shaped.skeleton);
  const set = document.records.get(bodySetId);
  if (base === shaped || set?.type !== 'bodySet') return bodies;
  const counts = new Map<string, number>();
  for (const { jointName } of bodies) counts.set(jointName, (counts.get(jointName) ?? 0) + 1);
  const { follows } = set;
  // Several on one joint share its skin: none of them is what all of it would be fitted by.
  const followsOf = (body: BodyRecord): BodyFollows =>
    follows === 'fit' && counts.get(body.jointName)! > 1 ? 'skin' : follows;
  return bodies.map((body) => ({
    ...body,
    shape: followBodyShape(document, body, { base, shaped, follows: followsOf(body) }),
  }));
}

/**
 * The bodies that a garment meets, on the joints of a character, as a run takes them; those whose joint it lacks are left out.
 * @param level - At which it does without some; null: none.
 */
export function placeBodies(
  document: Pick<AuthoredDocument, 'records'>,
  { bodySetId, bodyGroups }: Pick<GarmentRecord, 'bodySetId' | 'bodyGroups'>,
  character: ShapedCharacter,
  level: Pick<GarmentLevel, 'withoutBodies'> | null = null,
): CollisionShape[] {
  const { skeleton } = character.shaped;
  return listFollowingBodies(document, bodySetId, character)
    .filter(({ jointName, group }) => skeleton.names.includes(jointName) && bodyGroups & groupBit(group))
    .filter(({ id }) => !level?.withoutBodies.includes(id))
    .map(({ id, jointName, shape, margin }) => ({
      ...meetShape(shape, skeleton.names.indexOf(jointName), margin),
      id,
    }));
}

/** The meshes that a garment meets, each with its section; those whose section the character lacks are left out. */
export function placeBodyMeshes(
  document: Pick<AuthoredDocument, 'records'>,
  { bodySetId, bodyGroups }: Pick<GarmentRecord, 'bodySetId' | 'bodyGroups'>,
  character: Character,
): { record: BodyMeshRecord; sectionIndex: number }[] {
  return listBodyMeshes(document, bodySetId)
    .filter(({ group }) => bodyGroups & groupBit(group))
    .map((record) => ({ record, sectionIndex: findSection(character, record) }))
    .filter(({ sectionIndex }) => sectionIndex >= 0);
}
