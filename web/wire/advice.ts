import { array, number, object } from 'yup';
import type { TriedChanges } from '../../core/advice/index.ts';
import type { RecordId } from '../../core/document/index.ts';
import type { ResolvedLimits, TrialCase } from '../../core/trials/index.ts';
import { type Seen, seenSchema } from './characters.ts';
import { countField, opaque } from './fields.ts';

/** POST /api/characters/ID/advice */
export const adviceOrderSchema = object({
  clips: array(countField).required().min(1).max(1000),
  /** ms a frame. */
  budget: number().required().moreThan(0).max(1000),
  seen: seenSchema.required(),
}).noUnknown();

export interface AdviceOrderBody {
  clips: readonly number[];
  budget: number;
  seen: Seen;
}

/** GET /api/tasks/ID/results, of savings. */
export const adviceFoundSchema = object({
  request: opaque<{
    cases: readonly TrialCase[];
    budget: number;
    limits: readonly (readonly [RecordId, ResolvedLimits])[];
  }>(),
  results: opaque<readonly TriedChanges[]>(),
});
