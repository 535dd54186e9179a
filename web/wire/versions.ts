import { array, type InferType, object, string } from 'yup';
import { storedRecordSchema } from './characters.ts';
import { dateField, idField, textsField } from './fields.ts';

const versionSchema = object({
  id: idField,
  /** Null for one that was kept by itself. */
  name: string().nullable().defined(),
  createdAt: dateField,
  /** Windows that made it what it is. */
  windows: textsField,
  /** What changed since the version before it, in words. */
  changes: textsField,
});
export type Version = InferType<typeof versionSchema>;

/** GET /api/characters/ID/versions */
export const historySchema = object({
  versions: array(versionSchema.required()).required(),
  now: object({ changes: textsField, windows: textsField }).required(),
});
export type CharacterHistory = InferType<typeof historySchema>;

/** GET /api/characters/ID/versions/ID */
export const versionRecordsSchema = object({ records: array(storedRecordSchema.required()).required() });

/** POST /api/characters/ID/versions; without a name it is kept by itself. */
export const newVersionSchema = object({
  name: string().trim().min(1).max(200).nullable().defined(),
}).noUnknown();

/** PATCH /api/characters/ID/versions/ID */
export const versionNameSchema = object({ name: string().trim().required().max(200) }).noUnknown();
