import { type AuthoredDocument, type GarmentRecord, listMaps } from '../document/index.ts';
import type { Character } from '../rig/index.ts';
import { transferChannel } from './transfer-channel.ts';

interface SectionOf {
  character: Character;
  sectionIndex: number;
}

/** Writes all maps of a garment, carried from the mesh that they are painted on to another, into records and arrays. */
export function carryMaps(
  document: AuthoredDocument,
  garment: Pick<GarmentRecord, 'id'>,
  { from, to }: { from: SectionOf; to: SectionOf },
  { records, arrays }: Pick<AuthoredDocument, 'records' | 'arrays'>,
): void {
  for (const map of listMaps(document, garment.id)) {
    const values = document.arrays.get(map.id);
    if (!values) continue;
    const carried = transferChannel(from, to, values, map.kind);
    arrays.set(map.id, carried);
    records.set(map.id, { ...map, pointCount: carried.length });
  }
}
