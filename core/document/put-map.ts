import { CHANNELS, type ChannelKind } from '../reach/index.ts';
import { type AuthoredDocument, findChannel, listMaps } from './document.ts';
import type { ChannelRecord, GarmentRecord, RecordId } from './records/index.ts';

/** A new map of a garment, at the default everywhere unless it is given values. Nothing is added to the document. */
export function createMap(
  document: Pick<AuthoredDocument, 'records'>,
  garment: GarmentRecord,
  kind: ChannelKind,
  pointCount: number,
  id: RecordId,
  values?: Float32Array,
): { map: ChannelRecord; values: Float32Array } {
  const names = new Set(listMaps(document, garment.id, kind).map(({ name }) => name));
  let number = names.size + 1;
  while (names.has(nameMap(number))) number++;
  return {
    map: {
      type: 'channel',
      id,
      garmentId: garment.id,
      kind,
      name: nameMap(number),
      isInUse: true,
      pointCount,
    },
    values: values?.slice() ?? new Float32Array(pointCount).fill(CHANNELS[kind].defaultValue),
  };
}

const ORDINALS = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth'];

function nameMap(number: number): string {
  return ORDINALS[number - 1] ?? `map ${number}`;
}

/** The map of a channel that is in use, made when there is none. */
export function ensureMap(
  document: AuthoredDocument,
  garment: GarmentRecord,
  kind: ChannelKind,
  pointCount: number,
  createId: () => RecordId,
): ChannelRecord {
  const known = findChannel(document, garment.id, kind);
  if (known) return known;
  const { map, values } = createMap(document, garment, kind, pointCount, createId());
  document.records.set(map.id, map);
  document.arrays.set(map.id, values);
  return map;
}
