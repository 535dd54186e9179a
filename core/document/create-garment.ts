import { LIBRARY_FABRICS } from '../cloth/index.ts';
import { weldPoints } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { type AuthoredDocument, listGarments, listRecords } from './document.ts';
import {
  BODY_SET_DEFAULTS,
  type BodySetRecord,
  type ChannelRecord,
  type FabricRecord,
  GARMENT_DEFAULTS,
  type GarmentRecord,
  type RecordId,
} from './records/index.ts';

export interface NewGarment {
  garment: GarmentRecord;
  channel: ChannelRecord;
  fabric: FabricRecord;
  /** Null when the character already has a set, which the garment then uses. */
  bodySet: BodySetRecord | null;
  /** All zero: held until reach is painted. */
  maxDistances: Float32Array;
}

/**
 * The records that make a section a simulated garment: everything held, a starter fabric, the first body set.
 * Nothing is added to the document.
 * @param createId - Gives a new id at each call.
 */
export function createGarment(
  character: Character,
  document: AuthoredDocument,
  sectionIndex: number,
  createId: () => RecordId,
): NewGarment {
  const section = character.sections[sectionIndex]!;
  const garments = listGarments(document);
  const existingSet = listRecords(document, 'bodySet')[0];
  const bodySet: BodySetRecord | null = existingSet
    ? null
    : { type: 'bodySet', id: createId(), name: 'Main', ...BODY_SET_DEFAULTS };
  const starter = LIBRARY_FABRICS[0]!;
  const fabric: FabricRecord = {
    type: 'fabric',
    id: createId(),
    name: starter.name,
    settings: { ...starter.settings },
  };
  const garment: GarmentRecord = {
    type: 'garment',
    id: createId(),
    name: section.name,
    order: garments.length === 0 ? 0 : garments[garments.length - 1]!.order + 1,
    sectionIndex,
    sectionName: section.name,
    fabricId: fabric.id,
    bodySetId: (existingSet ?? bodySet)!.id,
    ...GARMENT_DEFAULTS,
  };
  const { pointCount } = weldPoints(section.positions);
  const channel: ChannelRecord = {
    type: 'channel',
    id: createId(),
    garmentId: garment.id,
    kind: 'maxDistance',
    name: 'first',
    isInUse: true,
    pointCount,
  };
  return { garment, channel, fabric, bodySet, maxDistances: new Float32Array(pointCount) };
}

/**
 * Puts a new garment into a document, with its map.
 * @param maxDistances - [welded points] m; by default all held.
 */
export function insertGarment(
  document: AuthoredDocument,
  made: NewGarment,
  maxDistances: Float32Array = made.maxDistances,
): void {
  for (const record of [made.garment, made.channel, made.fabric, made.bodySet])
    if (record) document.records.set(record.id, record);
  document.arrays.set(made.channel.id, maxDistances);
}
