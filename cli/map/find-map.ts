import {
  type AuthoredDocument,
  createDocument,
  createGarment,
  findChannel,
  type GarmentRecord,
  insertGarment,
  listGarments,
  type RecordId,
} from '../../core/document/index.ts';
import { weldPoints } from '../../core/mesh/index.ts';
import { CHANNELS, type ChannelKind, SHIPPED_KINDS } from '../../core/reach/index.ts';
import { findSection, type Section } from '../../core/rig/index.ts';
import { readReach } from '../../core/run/index.ts';
import type { ReadCharacter } from '../../formats/index.ts';
import { requireSection } from '../find-section.ts';
import { UsageError } from '../usage-error.ts';

/** A channel by its name, as the page shows it or as files name it, upper and lower case alike. */
export function requireChannel(name: string): ChannelKind {
  const plain = (text: string): string => text.toLowerCase().replaceAll(/[\s_-]/g, '');
  const found = SHIPPED_KINDS.find(
    (kind) => plain(kind) === plain(name) || plain(CHANNELS[kind].label) === plain(name),
  );
  if (found) return found;
  throw new UsageError(`there is no channel "${name}"; there are ${SHIPPED_KINDS.join(', ')}.`);
}

/** A section of a file as something to map: its garment in the cloth data, or one made now in a plain file. */
export interface MappedSection {
  authored: AuthoredDocument;
  garment: GarmentRecord;
  section: Section;
  pointCount: number;
  /** Points that ride on others. */
  lining: Uint8Array | null;
}

/** @throws {UsageError} When there is no such section, or it only follows a sim mesh. */
export function findMapped(source: ReadCharacter, sectionName: string): MappedSection {
  const { character } = source;
  const index = requireSection(character, sectionName);
  const authored = source.authored ?? createDocument();
  const garments = listGarments(authored);
  const follows = garments.find(({ renders }) =>
    renders.some((name) => findSection(character, name) === index),
  );
  if (follows)
    throw new UsageError(
      `"${sectionName}" follows the sim mesh "${follows.sectionName}", which has the maps: name that section.`,
    );
  const garment =
    garments.find((each) => findSection(character, each) === index) ?? addGarment(source, authored, index);
  const section = character.sections[index]!;
  const { pointCount } = weldPoints(section.positions);
  const { lining } = readReach(authored, garment, section, pointCount);
  return { authored, garment, section, pointCount, lining };
}

function addGarment(source: ReadCharacter, authored: AuthoredDocument, index: number): GarmentRecord {
  const made = createGarment(source.character, authored, index, createIds('new'));
  insertGarment(authored, made);
  return made.garment;
}

/** Ids that are the same at each run. */
export function createIds(prefix: string): () => RecordId {
  let count = 0;
  return () => `${prefix}-${++count}` as RecordId;
}

/** Values of the map in use. @throws {UsageError} When the garment has none of that channel, with what it has. */
export function requireValues({ authored, garment }: MappedSection, kind: ChannelKind): Float32Array {
  const map = findChannel(authored, garment.id, kind);
  const values = map && authored.arrays.get(map.id);
  if (values) return values;
  const there = SHIPPED_KINDS.filter((each) => findChannel(authored, garment.id, each));
  throw new UsageError(
    `"${garment.sectionName}" has no map of ${kind}; it has ${there.join(', ') || 'none at all'}.`,
  );
}
