import { array, mixed, number, object, string } from 'yup';
import type { UnitCosts } from '../../core/cost/index.ts';
import { WORK_UNITS } from '../../core/run/index.ts';

const costsField = mixed<UnitCosts>((value): value is UnitCosts =>
  WORK_UNITS.every((unit) => Number.isFinite((value as Partial<UnitCosts>)[unit])),
).required();

const errorSchema = object({
  name: string().required(),
  predicted: number().required(),
  measured: number().required(),
});

/** GET /api/cost-profile */
export const costProfileSchema = object({
  profile: object({
    name: string().required(),
    source: string()
      .oneOf(['reference', 'machine'] as const)
      .required(),
    machine: string().nullable().defined(),
    measuredAt: string().nullable().defined(),
    costs: costsField,
    fit: object({ fitted: number().required(), tried: array(errorSchema.required()).required() })
      .nullable()
      .defined(),
  }).required(),
});
