import { array, boolean, type InferType, number, object, string } from 'yup';
import {
  type AuthoredRecord,
  type IntakeReport,
  type Limits,
  recordField,
} from '../../core/document/index.ts';
import type { SourceReview } from '../../core/prepare/index.ts';
import { countField, hashField, idField, opaque, versionsField } from './fields.ts';

/** A record with its version; numbers beside it are named by their hash. */
export const storedRecordSchema = object({
  record: opaque<AuthoredRecord>(),
  version: countField,
  arrayHash: string().nullable().defined(),
});

/** GET /api/characters/ID */
export const characterSchema = object({
  id: idField,
  name: string().required(),
  project: object({
    id: idField,
    name: string().required(),
    limits: opaque<Limits>(),
    targetId: string().required(),
  }).required(),
  report: opaque<IntakeReport>(),
  shippedAt: string().nullable().defined(),
  /** Number of its newest state, and one text for its source files. */
  revision: countField,
  source: hashField,
  /** Blob with the character as `packCharacter` makes it. */
  packedHash: hashField,
  records: array(storedRecordSchema.required()).required(),
});
export type CharacterInfo = InferType<typeof characterSchema>;

/** POST /api/projects/ID/characters, and /api/characters/ID/duplicate */
export const newCharacterSchema = object({ id: idField, name: string().required() });
export type NewCharacter = InferType<typeof newCharacterSchema>;

/** GET /api/characters/ID/revision */
export const revisionSchema = object({ revision: countField });

/** POST /api/characters/ID/changes */
export const savedSchema = object({ versions: versionsField, revision: countField });

/** POST and DELETE /api/characters/ID/clips */
export const reportSchema = object({ report: opaque<IntakeReport>() });

/** POST /api/characters/ID/source */
export const reviewSchema = object({ review: opaque<SourceReview>() });

/** What a page has on its screen: its source files, and the version of each record. POST /api/characters/ID/shipment */
export const seenSchema = object({ source: hashField, versions: versionsField });
export type Seen = InferType<typeof seenSchema>;

export const shipmentSchema = object({
  /** Number of the state that it was made of. */
  revision: countField,
  hash: hashField,
  name: string().required(),
  bytes: countField,
  validation: object({
    errors: countField,
    warnings: countField,
    messages: array(
      object({
        code: string().required(),
        message: string().defined(),
        pointer: string().defined(),
      }).required(),
    ).required(),
  }).required(),
});
export type Shipment = InferType<typeof shipmentSchema>;

/** The header of POST /api/characters/ID/changes, see `encodeSave`; records are checked by the registry. */
export const saveHeaderSchema = object({
  window: string().required().max(80),
  changes: array(
    object({
      id: string().required().min(1).max(80),
      baseVersion: countField,
      record: recordField,
      array: object({ count: number().integer().min(0).required(), isWhole: boolean().required() })
        .default(undefined)
        .noUnknown(),
    })
      .noUnknown()
      .required(),
  )
    .required()
    .min(1)
    .max(5000),
}).noUnknown();
