import { number, type ObjectSchema, object, type Schema, string } from 'yup';

export type RecordId = string & { readonly brand: 'RecordId' };

/** What every record has. */
export interface BaseRecord {
  type: string;
  id: RecordId;
}

/** What is known of the character and of what is stored when a record is checked before it is kept. */
export interface RecordFacts {
  /** Numbers that come with the record; null when those that are stored stay. */
  values: Float32Array | null;
  /** Which of the stored ones they are in the place of; null: of all. */
  indices: Uint32Array | null;
  /** How many there are beside the record afterwards. */
  length: number;
  /** Names of the joints that bodies may sit on. */
  jointNames: ReadonlySet<string>;
}

/** Brings a record that an earlier version wrote to the next one. */
export interface RecordRaise {
  /** Version of documents that this leads to. */
  to: number;
  /** What changes, for whoever reads the list. */
  name: string;
  raise(record: Record<string, unknown>): Record<string, unknown>;
}

/** A type of record: all that is known of it stands in one file. */
export interface RecordDefinition<R extends BaseRecord> {
  type: R['type'];
  /** What one is called, and several. */
  words: readonly [one: string, many: string];
  /** Its fields but type and id, each with its range. */
  fields: { [Key in Exclude<keyof R, 'type' | 'id'>]-?: Schema };
  /** What a field is called when a change is told; those without a word change unseen. */
  fieldWords: { [Key in keyof R]?: string };
  /** Fields that name another record, and of which type that is. */
  references?: { [Key in keyof R]?: string };
  /** Numbers may be kept beside it. */
  hasArray?: boolean;
  /** What it is called in a list. */
  tellName(record: R): string;
  /** @returns What is wrong with it beyond its fields, as the end of a sentence; null when all is well. */
  check?(record: R, facts: RecordFacts): string | null;
  /** Gives fields that came later the value that stands for what was before: whatever the version says, after all raises. */
  complete?(record: Record<string, unknown>): Record<string, unknown>;
  /** From earlier versions, in order. */
  raises: readonly RecordRaise[];
}

export const idField = string().required().min(1).max(80);
export const titleField = string().required().min(1).max(200);
export const indexField = number().required().integer().min(0);

/** Schema of a whole record of a type: no field is missing, none is unknown. */
export function createRecordSchema(definition: {
  type: string;
  fields: Record<string, Schema>;
}): ObjectSchema<object> {
  return object({
    type: string().oneOf([definition.type]).required(),
    id: idField,
    ...definition.fields,
  }).noUnknown();
}
