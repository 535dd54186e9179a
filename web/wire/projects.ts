import { array, boolean, type InferType, mixed, object, string } from 'yup';
import { type CrowdSettings, crowdSettingsField } from '../../core/crowd/index.ts';
import { type Limits, limitsField } from '../../core/document/index.ts';
import { countField, dateField, editSchema, hashField, idField, textsField } from './fields.ts';

/** POST /api/projects */
export const newProjectSchema = object({ name: string().required().max(1000) });

/** PATCH /api/projects/ID */
export const projectEditSchema = editSchema.shape({
  targetId: string().max(80),
  limits: mixed<Limits>((value): value is Limits => limitsField.isValidSync(value, { strict: true })),
  crowd: mixed<CrowdSettings>((value): value is CrowdSettings =>
    crowdSettingsField.isValidSync(value, { strict: true }),
  ),
});

/** A character as the library shows it. */
const characterCardSchema = object({
  id: idField,
  projectId: idField,
  name: string().required(),
  thumbnailHash: hashField,
  garments: textsField,
  bodies: countField,
  clips: countField,
  vertices: countField,
  editedAt: dateField,
  shippedAt: string().nullable().defined(),
  /** Whether nothing has changed since it was shipped. */
  isShippedAsIs: boolean().required(),
});

export const projectCardSchema = object({
  id: idField,
  name: string().required(),
  version: countField,
  characters: array(characterCardSchema.required()).required(),
});
export type ProjectCard = InferType<typeof projectCardSchema>;

/** GET /api/projects */
export const projectsSchema = object({ projects: array(projectCardSchema.required()).required() });
