import type { BodyShape } from '../bodies/index.ts';
import type { FabricSettings } from '../cloth/index.ts';

/**
 * What an artist authors, as plain records keyed by id. Large arrays stand beside the records, keyed by the
 * channel that owns them. Lengths in metres.
 */
export type RecordId = string & { readonly brand: 'RecordId' };

export interface GarmentRecord {
  type: 'garment';
  id: RecordId;
  name: string;
  /** Place in the list, from the skin outward. */
  order: number;
  /** Section of the character, with its name, to find it again in a new version of the file. */
  sectionIndex: number;
  sectionName: string;
  fabricId: RecordId;
  bodySetId: RecordId;
}

/** Values of one quantity at every point of a garment; the values themselves are an array beside the record. */
export interface ChannelRecord {
  type: 'channel';
  id: RecordId;
  garmentId: RecordId;
  kind: 'maxDistance';
  name: string;
  pointCount: number;
}

export interface FabricRecord {
  type: 'fabric';
  id: RecordId;
  name: string;
  settings: FabricSettings;
}

export interface BodySetRecord {
  type: 'bodySet';
  id: RecordId;
  name: string;
}

export interface BodyRecord {
  type: 'body';
  id: RecordId;
  bodySetId: RecordId;
  name: string;
  jointName: string;
  shape: BodyShape;
}

/** One per character. */
export interface SceneRecord {
  type: 'scene';
  id: RecordId;
  /** Name of the clip that was last looked at; null for the bind pose. */
  clipName: string | null;
  /** m/s */
  windSpeed: number;
  /** Where the wind blows to, degrees about the vertical: 0 is +Z (the way the character faces), 90 is +X. */
  windDirection: number;
  /** Milliseconds a frame that cloth may cost. */
  budgetMilliseconds: number;
}

export type AuthoredRecord =
  | GarmentRecord
  | ChannelRecord
  | FabricRecord
  | BodySetRecord
  | BodyRecord
  | SceneRecord;

export type RecordType = AuthoredRecord['type'];

export const SCENE_ID = 'scene' as RecordId;

export const SCENE_DEFAULTS: Readonly<SceneRecord> = {
  type: 'scene',
  id: SCENE_ID,
  clipName: null,
  windSpeed: 0,
  windDirection: 180,
  budgetMilliseconds: 12,
};

/** Everything authored for one character. */
export interface AuthoredDocument {
  records: Map<RecordId, AuthoredRecord>;
  /** Channel id → values, [pointCount]. */
  arrays: Map<RecordId, Float32Array>;
}

export function createDocument(): AuthoredDocument {
  return { records: new Map([[SCENE_ID, { ...SCENE_DEFAULTS }]]), arrays: new Map() };
}

export function listRecords<T extends RecordType>(
  document: Pick<AuthoredDocument, 'records'>,
  type: T,
): Extract<AuthoredRecord, { type: T }>[] {
  const found: Extract<AuthoredRecord, { type: T }>[] = [];
  for (const record of document.records.values()) {
    if (record.type === type) found.push(record as Extract<AuthoredRecord, { type: T }>);
  }
  return found;
}

/** Garments from the skin outward. */
export function listGarments(document: Pick<AuthoredDocument, 'records'>): GarmentRecord[] {
  return listRecords(document, 'garment').sort((p, q) => p.order - q.order || (p.id < q.id ? -1 : 1));
}

export function getScene(document: Pick<AuthoredDocument, 'records'>): SceneRecord {
  const scene = document.records.get(SCENE_ID);
  return scene?.type === 'scene' ? scene : { ...SCENE_DEFAULTS };
}

export function findChannel(
  document: Pick<AuthoredDocument, 'records'>,
  garmentId: RecordId,
): ChannelRecord | null {
  return listRecords(document, 'channel').find((channel) => channel.garmentId === garmentId) ?? null;
}

export function listBodies(document: Pick<AuthoredDocument, 'records'>, bodySetId: RecordId): BodyRecord[] {
  return listRecords(document, 'body')
    .filter((body) => body.bodySetId === bodySetId)
    .sort((p, q) => p.shape.node - q.shape.node || (p.id < q.id ? -1 : 1));
}

/** Sections that are not garments, in file order. */
export function listFreeSections(
  document: Pick<AuthoredDocument, 'records'>,
  sectionCount: number,
): number[] {
  const worn = new Set(listGarments(document).map((garment) => garment.sectionIndex));
  return Array.from({ length: sectionCount }, (_, index) => index).filter((index) => !worn.has(index));
}

/** World velocity of the wind of a scene, m/s. */
export function computeWind(
  scene: Pick<SceneRecord, 'windSpeed' | 'windDirection'>,
): [number, number, number] {
  const angle = (scene.windDirection * Math.PI) / 180;
  return [scene.windSpeed * Math.sin(angle), 0, scene.windSpeed * Math.cos(angle)];
}
