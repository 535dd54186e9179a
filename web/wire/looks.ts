import { array, type InferType, number, object, string, tuple } from 'yup';
import { countField } from './fields.ts';

const imageField = number().integer().min(0).nullable().defined();
const wrapField = string()
  .oneOf(['repeat', 'clamp', 'mirror'] as const)
  .required();
const partField = number().required().min(0).max(1);

/** GET /api/characters/ID/looks: images by their number in the file, read from /api/characters/ID/looks/NUMBER. */
export const looksSchema = object({
  sections: array(
    object({
      meshIndex: number().integer().required(),
      primitiveIndex: number().integer().required(),
      materialName: string().defined(),
      baseColor: imageField,
      normal: imageField,
      normalScale: number().required(),
      alpha: string()
        .oneOf(['opaque', 'mask', 'blend'] as const)
        .required(),
      cutoff: number().required(),
      wrap: tuple([wrapField, wrapField]).required(),
      color: tuple([partField, partField, partField]).nullable().defined(),
    }).required(),
  ).required(),
  images: array(
    object({
      index: countField,
      name: string().defined(),
      type: string().required(),
      bytes: countField,
    }).required(),
  ).required(),
  notes: array(string().required()).required(),
});
export type CharacterLooks = InferType<typeof looksSchema>;
export type SectionLook = CharacterLooks['sections'][number];
