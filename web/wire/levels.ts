import { array, boolean, type InferType, number, object, string } from 'yup';
import type { Pricing } from '../../core/cost/index.ts';
import { type CrowdSettings, crowdSettingsField } from '../../core/crowd/index.ts';
import type { GarmentLevel, RecordId } from '../../core/document/index.ts';
import type { BandFigures } from '../../core/levels/index.ts';
import type { TrialCase } from '../../core/trials/index.ts';
import { type Seen, seenSchema } from './characters.ts';
import { countField, dateField, idField, opaque } from './fields.ts';

/** POST /api/characters/ID/levels */
export const levelsOrderSchema = object({
  clips: array(countField).required().min(1).max(1000),
  seen: seenSchema.required(),
}).noUnknown();

export interface LevelsOrderBody {
  clips: readonly number[];
  seen: Seen;
}

export interface MeasuredBand extends BandFigures {
  band: number;
}

/** GET /api/tasks/ID/results, of levels of detail. */
export const levelsFoundSchema = object({
  request: opaque<{
    cases: readonly TrialCase[];
    pricing: Pricing;
    bands: readonly { from: number; levels: readonly (readonly [RecordId, GarmentLevel])[] }[];
    height: number;
    switchSeconds: number;
  }>(),
  /** Of the bands that are measured. */
  results: opaque<readonly MeasuredBand[]>(),
});
export type LevelsFound = InferType<typeof levelsFoundSchema>;

const bandSchema = object({
  from: number().required(),
  cost: number().required(),
  switchCost: number().nullable().defined(),
});

/** GET /api/projects/ID/crowd */
export const crowdSchema = object({
  projectName: string().required(),
  settings: crowdSettingsField.required(),
  target: object({
    name: string().required(),
    cores: number().required(),
    budget: number().required(),
  }).required(),
  members: array(
    object({
      id: idField,
      name: string().required(),
      height: number().required(),
      bands: array(bandSchema.required()).required(),
      measuredAt: dateField,
      isOld: boolean().required(),
    }).required(),
  ).required(),
  unmeasured: array(
    object({ id: idField, name: string().required(), hasLevels: boolean().required() }).required(),
  ).required(),
});
export type ProjectCrowd = Omit<InferType<typeof crowdSchema>, 'settings'> & { settings: CrowdSettings };
