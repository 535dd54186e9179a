import { array, boolean, type InferType, mixed, number, object, string } from 'yup';
import { TARGET_FIELDS } from '../../core/budget/index.ts';
import type { UnitCosts } from '../../core/cost/index.ts';
import { WORK_UNITS } from '../../core/run/index.ts';

const costsField = mixed<UnitCosts>((value): value is UnitCosts =>
  WORK_UNITS.every((unit) => Number.isFinite((value as Partial<UnitCosts>)[unit])),
).required();

const errorsField = array(
  object({
    name: string().required(),
    predicted: number().required(),
    measured: number().required(),
  }).required(),
);

export const costProfileSchema = object({
  name: string().required(),
  source: string()
    .oneOf(['reference', 'machine', 'timings'] as const)
    .required(),
  machine: string().nullable().defined(),
  measuredAt: string().nullable().defined(),
  costs: costsField,
  fit: object({ fitted: number().required(), tried: errorsField.required() }).nullable().defined(),
  groups: array(
    object({
      key: string().required(),
      factor: number().required(),
      error: number().required(),
      isAssumed: boolean().required(),
    }).required(),
  ).default(undefined),
  timed: errorsField.default(undefined),
}).required();

export const targetSchema = object({
  ...TARGET_FIELDS,
  id: string().required(),
  costs: costProfileSchema,
}).required();

/** GET /api/targets */
export const targetsSchema = object({ targets: array(targetSchema).required().min(1) });

const { name, framesPerSecond, share, budgetMilliseconds, cores } = TARGET_FIELDS;

/** PATCH /api/targets/ID */
export const targetEditSchema = object({
  name: name.optional(),
  framesPerSecond: framesPerSecond.optional(),
  share: share.optional(),
  budgetMilliseconds: budgetMilliseconds.optional(),
  cores: cores.optional(),
}).noUnknown();
export type TargetEdit = InferType<typeof targetEditSchema>;

/** POST /api/targets/timings */
export const timingsSchema = object({ csv: string().required().max(1_000_000) });

/** DELETE /api/targets/ID */
export const targetRemovedSchema = object({ projects: number().required() });
