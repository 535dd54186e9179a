import { array, type InferType, number, object, string } from 'yup';
import { recordField } from '../../core/document/index.ts';

/** What the page may write, checked field by field against the registry of records; unknown fields are refused. */
export const ChangesSchema = object({
  changes: array(
    object({
      id: string().required().min(1).max(80),
      baseVersion: number().required().integer().min(0),
      record: recordField,
      array: string()
        .max(24_000_000)
        .matches(/^[A-Za-z0-9+/]*={0,2}$/, 'array must be base64'),
    })
      .noUnknown()
      .required(),
  )
    .required()
    .min(1)
    .max(5000),
});

export type ChangesBody = InferType<typeof ChangesSchema>;
