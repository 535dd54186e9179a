import { type AuthoredDocument, type GarmentRecord, listBodySections } from '../document/index.ts';
import { type Character, findSection } from '../rig/index.ts';
import { applyAct } from '../steps/index.ts';
import { carryMaps } from './carry-maps.ts';
import type { Coarsened } from './coarsen-garment.ts';

/**
 * A garment whose mesh has its thin rows joined, with all its maps carried over; nothing that is given is changed. The mesh is that of the step
 * "join thin rows".
 * @param character - Prepared. @throws {RangeError} When the garment has no section.
 */
export function joinThinRows(
  character: Character,
  document: AuthoredDocument,
  garment: GarmentRecord,
): Coarsened {
  const sectionIndex = findSection(character, garment);
  if (sectionIndex < 0) throw new RangeError(`${garment.name} has lost its section: it has no rows.`);
  const context = {
    character,
    sectionIndex,
    array: undefined,
    listBody: () => listBodySections(document, character),
    onProgress: () => {},
  };
  const made = applyAct(context, { kind: 'joinRows' }).character;
  const [records, arrays] = [new Map(document.records), new Map(document.arrays)];
  const [from, to] = [character, made].map((each) => ({ character: each, sectionIndex }));
  carryMaps(document, garment, { from: from!, to: to! }, { records, arrays });
  return { character: made, document: { ...document, records, arrays } };
}
