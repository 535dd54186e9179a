import type { ChannelKind } from '../reach/index.ts';
import type { Skeleton } from '../rig/index.ts';
import {
  type AuthoredRecord,
  type BodyMeshRecord,
  type BodyRecord,
  type ChannelRecord,
  type GarmentRecord,
  type Limits,
  type RecordId,
  type RecordType,
  SCENE_DEFAULTS,
  SCENE_ID,
  type SceneRecord,
  type StepRecord,
} from './records/index.ts';

/** Everything authored for one character. */
export interface AuthoredDocument {
  records: Map<RecordId, AuthoredRecord>;
  /** Channel id → values, [pointCount]; id of a step → what was picked, made or done by hand, packed. */
  arrays: Map<RecordId, Float32Array>;
  /** Limits of trials that hold for all characters of its project, where none of its own are said. */
  projectLimits?: Limits;
}

/** A document with nothing in it but a scene. */
export function createDocument(): AuthoredDocument {
  return { records: new Map([[SCENE_ID, { ...SCENE_DEFAULTS }]]), arrays: new Map() };
}

/** Records of one type, in no order. O(records). */
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

/** The scene of a document; its defaults when it has none. */
export function getScene(document: Pick<AuthoredDocument, 'records'>): SceneRecord {
  const scene = document.records.get(SCENE_ID);
  return scene?.type === 'scene' ? scene : { ...SCENE_DEFAULTS };
}

/** Maps of a garment, of one channel or of all, by name. */
export function listMaps(
  document: Pick<AuthoredDocument, 'records'>,
  garmentId: RecordId,
  kind?: ChannelKind,
): ChannelRecord[] {
  return listRecords(document, 'channel')
    .filter((map) => map.garmentId === garmentId && (kind === undefined || map.kind === kind))
    .sort((p, q) => p.name.localeCompare(q.name, 'en', { numeric: true }) || (p.id < q.id ? -1 : 1));
}

/** The map of a channel that is in use, or null. */
export function findChannel(
  document: Pick<AuthoredDocument, 'records'>,
  garmentId: RecordId,
  kind: ChannelKind = 'maxDistance',
): ChannelRecord | null {
  return listMaps(document, garmentId, kind).find(({ isInUse }) => isInUse) ?? null;
}

/** Steps of preparation in the order in which they are replayed. */
export function listSteps(document: Pick<AuthoredDocument, 'records'>): StepRecord[] {
  return listRecords(document, 'step').sort((p, q) => p.order - q.order || (p.id < q.id ? -1 : 1));
}

/** Meshes of a set that cloth is kept out of, by name. */
export function listBodyMeshes(
  document: Pick<AuthoredDocument, 'records'>,
  bodySetId: RecordId,
): BodyMeshRecord[] {
  return listRecords(document, 'bodyMesh')
    .filter((mesh) => mesh.bodySetId === bodySetId)
    .sort((p, q) => p.name.localeCompare(q.name, 'en', { numeric: true }) || (p.id < q.id ? -1 : 1));
}

/** How many bodies and meshes a set has. */
export function countBodies(document: Pick<AuthoredDocument, 'records'>, bodySetId: RecordId): number {
  let count = 0;
  for (const record of document.records.values())
    if ((record.type === 'body' || record.type === 'bodyMesh') && record.bodySetId === bodySetId) count++;
  return count;
}

/** Bodies of a set by the order of their joints, when a skeleton is given, else by the joints' names; those of one joint by name. */
export function listBodies(
  document: Pick<AuthoredDocument, 'records'>,
  bodySetId: RecordId,
  skeleton: Pick<Skeleton, 'names'> | null = null,
): BodyRecord[] {
  const placeOf = new Map(skeleton?.names.map((name, node) => [name, node]));
  const compare = (p: BodyRecord, q: BodyRecord): number =>
    skeleton
      ? (placeOf.get(p.jointName) ?? -1) - (placeOf.get(q.jointName) ?? -1)
      : p.jointName.localeCompare(q.jointName, 'en', { numeric: true });
  return listRecords(document, 'body')
    .filter((body) => body.bodySetId === bodySetId)
    .sort(
      (p, q) =>
        compare(p, q) || p.name.localeCompare(q.name, 'en', { numeric: true }) || (p.id < q.id ? -1 : 1),
    );
}
