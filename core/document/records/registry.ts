import { lazy, mixed, type Schema } from 'yup';
import { tellCount } from '../../math/index.ts';
import { type BodyRecord, bodyDefinition } from './body.ts';
import { type BodyMeshRecord, bodyMeshDefinition } from './body-mesh.ts';
import { type BodySetRecord, bodySetDefinition } from './body-set.ts';
import { type ChannelRecord, channelDefinition } from './channel.ts';
import { type FabricRecord, fabricDefinition } from './fabric.ts';
import { type GarmentRecord, garmentDefinition } from './garment.ts';
import {
  type BaseRecord,
  createRecordSchema,
  type RecordDefinition,
  type RecordFacts,
} from './record-definition.ts';
import { type SceneRecord, sceneDefinition } from './scene.ts';
import { type StepRecord, stepDefinition } from './step.ts';

export type AuthoredRecord =
  | GarmentRecord
  | ChannelRecord
  | FabricRecord
  | BodySetRecord
  | BodyRecord
  | BodyMeshRecord
  | SceneRecord
  | StepRecord;

export type RecordType = AuthoredRecord['type'];

/**
 * Form in which documents are kept now. Whoever changes what a stored field means raises it, and adds a step to its record
 * type; a field that is new needs none, only its value in `complete`.
 */
export const DOCUMENT_VERSION = 5;

type Definitions = { [T in RecordType]: RecordDefinition<Extract<AuthoredRecord, { type: T }>> };

/** All types of records. What is known of one stands in its file. */
export const RECORDS: Definitions = {
  garment: garmentDefinition,
  channel: channelDefinition,
  fabric: fabricDefinition,
  bodySet: bodySetDefinition,
  body: bodyDefinition,
  bodyMesh: bodyMeshDefinition,
  scene: sceneDefinition,
  step: stepDefinition,
};

export const RECORD_TYPES = Object.keys(RECORDS) as readonly RecordType[];

function getDefinition(record: BaseRecord): RecordDefinition<BaseRecord> {
  return RECORDS[record.type as RecordType] as unknown as RecordDefinition<BaseRecord>;
}

const schemas = new Map<string, Schema>();

function getRecordSchema(type: unknown): Schema | null {
  // Names like `__proto__` are no types of ours.
  if (typeof type !== 'string' || !Object.hasOwn(RECORDS, type)) return null;
  let schema = schemas.get(type);
  if (!schema) {
    schema = createRecordSchema(RECORDS[type as RecordType] as never);
    schemas.set(type, schema);
  }
  return schema;
}

/** A whole record, or null for one that goes; unknown fields are refused. */
export const recordField = lazy((value: { type?: unknown } | null) => {
  if (value === null) return mixed().nullable();
  return (
    getRecordSchema(value?.type) ??
    mixed().test('type', `"${value?.type}" is not a type of record`, () => false)
  );
});

/** Whether numbers may be kept beside records of a type. */
export function mayHaveArray(type: RecordType): boolean {
  return RECORDS[type].hasArray === true;
}

/** What a record names: the field, the id in it, and of which type that must be. */
export function listReferences(record: AuthoredRecord): { field: string; id: string; type: string }[] {
  return Object.entries(getDefinition(record).references ?? {}).map(([field, type]) => ({
    field,
    id: (record as unknown as Record<string, string>)[field]!,
    type: type as string,
  }));
}

/** @returns What is wrong with a record beyond its fields, as the end of a sentence; null when all is well. */
export function checkRecord(record: AuthoredRecord, facts: RecordFacts): string | null {
  return getDefinition(record).check?.(record, facts) ?? null;
}

/** What a record is called: `garment "Smock"`. */
export function tellRecord(record: AuthoredRecord): string {
  const { words, tellName } = getDefinition(record);
  const name = tellName(record);
  return record.type === 'scene' ? name : `${words[0]} ${name.endsWith('"') ? name : `"${name}"`}`;
}

/** Words of the fields in which two states of a record differ. */
export function listChangedFields(before: AuthoredRecord, after: AuthoredRecord): string[] {
  const [was, is] = [before, after] as unknown as Record<string, unknown>[];
  return Object.entries(getDefinition(after).fieldWords)
    .filter(([field]) => JSON.stringify(was![field]) !== JSON.stringify(is![field]))
    .map(([, word]) => word as string);
}

/** What several records of a type are called: `3 bodies`, `1 garment`. */
export function countRecords(type: RecordType, count: number): string {
  const [one, many] = RECORDS[type].words;
  return tellCount(count, one, many);
}

/**
 * A record as this version keeps it, from one that an earlier version wrote.
 * @param version - Of documents when it was written; 0 for those from before versions were kept.
 */
export function raiseRecord(record: BaseRecord, version: number): AuthoredRecord {
  const definition = getDefinition(record);
  let raised = record as unknown as Record<string, unknown>;
  for (const step of definition?.raises ?? []) if (step.to > version) raised = step.raise(raised);
  return (definition?.complete?.(raised) ?? raised) as unknown as AuthoredRecord;
}
