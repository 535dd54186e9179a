import { suggestBodies } from '../bodies/index.ts';
import { bindSection, type Character, findSection } from '../rig/index.ts';
import { listBodySections } from './body-sections.ts';
import { type AuthoredDocument, listGarments } from './document.ts';
import { BODY_DEFAULTS, type BodyRecord, type RecordId } from './records/index.ts';

/**
 * Bodies fitted to the skin that the garments of a body set can reach; to all skin when none uses it. Nothing is added to
 * the document.
 *
 * @param createId - Gives a new id at each call.
 */
export function createSuggestedBodies(
  character: Character,
  document: AuthoredDocument,
  bodySetId: RecordId,
  createId: () => RecordId,
): BodyRecord[] {
  const sections = listGarments(document)
    .filter((garment) => garment.bodySetId === bodySetId)
    .map((garment) => findSection(character, garment))
    .filter((index) => index >= 0);
  const reachable = sections.flatMap((index) => [...bindSection(character, index)]);
  const suggested = suggestBodies(character, {
    sections: listBodySections(document, character),
    ...(reachable.length > 0 && { reachable: Float32Array.from(reachable) }),
  });
  return suggested.map(({ name, kind, a, b, radiusA, radiusB }): BodyRecord => {
    const shape = { kind, a, b, radiusA, radiusB };
    return { type: 'body', id: createId(), bodySetId, name, jointName: name, shape, ...BODY_DEFAULTS };
  });
}
