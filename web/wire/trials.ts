import { array, boolean, type InferType, mixed, number, object, string } from 'yup';
import { type Limits, limitsField } from '../../core/document/index.ts';
import {
  type SearchPlan,
  type SearchScore,
  type SearchVariable,
  VARIABLE_KEYS,
  type VariableKey,
} from '../../core/search/index.ts';
import {
  TRIAL_RATES,
  TRIAL_WINDS,
  type TrialCase,
  type TrialMotion,
  type TrialPlan,
} from '../../core/trials/index.ts';
import { type Seen, seenSchema, storedRecordSchema } from './characters.ts';
import { countField, dateField, idField, opaque, textsField } from './fields.ts';

/** Seconds that a blend may take. */
export const LONGEST_BLEND = 10;

const clipMotionSchema = object({
  kind: string()
    .oneOf(['clip'] as const)
    .required(),
  clip: countField,
}).noUnknown();
const blendMotionSchema = object({
  kind: string()
    .oneOf(['blend'] as const)
    .required(),
  from: countField,
  to: countField,
  at: number().min(0).required(),
  seconds: number().moreThan(0).max(LONGEST_BLEND).required(),
}).noUnknown();

function isMotion(value: unknown): value is TrialMotion {
  const schema = (value as TrialMotion | null)?.kind === 'blend' ? blendMotionSchema : clipMotionSchema;
  return schema.isValidSync(value, { strict: true });
}

const motionsField = mixed<TrialMotion[]>(
  (value): value is TrialMotion[] => Array.isArray(value) && value.length <= 500 && value.every(isMotion),
).required();

const planSchema = object({
  motions: motionsField,
  shapes: array(string().required().max(200)).required().max(200),
  winds: array(
    mixed<(typeof TRIAL_WINDS)[number]>()
      .oneOf([...TRIAL_WINDS])
      .required(),
  ).required(),
  rates: array(
    mixed<(typeof TRIAL_RATES)[number]>()
      .oneOf([...TRIAL_RATES])
      .required(),
  ).required(),
}).noUnknown();

/** POST /api/characters/ID/trials */
export const trialOrderSchema = object({
  plan: planSchema.required(),
  isAutomatic: boolean().required(),
  seen: seenSchema.required(),
}).noUnknown();

export interface TrialOrderBody {
  plan: TrialPlan;
  isAutomatic: boolean;
  seen: Seen;
}

const trialSchema = object({
  id: idField,
  title: string().required(),
  isAutomatic: boolean().required(),
  revision: countField,
  /** Whether nothing that moves has changed since. */
  fits: boolean().required(),
  cases: countField,
  /** Cases that broke a limit of then. */
  broken: countField,
  seconds: number().required(),
  createdAt: dateField,
});
export type TrialEntry = InferType<typeof trialSchema>;

/** GET /api/characters/ID/trials; the newest first. */
export const trialsSchema = object({ trials: array(trialSchema.required()).required() });

/** DELETE /api/characters/ID/trials */
export const trialIdsSchema = object({ ids: array(idField).required().max(100_000) }).noUnknown();
export const removedSchema = object({ removed: countField });

/** GET /api/trials/ID */
export const trialCasesSchema = object({ cases: opaque<TrialCase[]>() });

/** GET /api/trials/ID/records */
export const trialRecordsSchema = object({ records: array(storedRecordSchema.required()).required() });

/** GET /api/trials/ID/changes */
export const trialChangesSchema = object({ changes: textsField });

export const TASK_STATES = ['queued', 'running', 'done', 'failed', 'cancelled'] as const;

export const taskSchema = object({
  id: idField,
  /** Null of what is of no character. */
  characterId: idField.nullable().defined(),
  characterName: string().nullable().defined(),
  kind: string()
    .oneOf(['trial', 'search', 'bodies', 'reach', 'calibration', 'advice', 'levels'] as const)
    .required(),
  title: string().required(),
  isAutomatic: boolean().required(),
  revision: countField,
  state: string().oneOf(TASK_STATES).required(),
  /** Why it failed. */
  error: string().nullable().defined(),
  parts: countField,
  partsDone: countField,
  /** Frames that are done, and all of them. */
  done: countField,
  total: countField,
  createdAt: dateField,
  startedAt: string().nullable().defined(),
  finishedAt: string().nullable().defined(),
});
export type TaskEntry = InferType<typeof taskSchema>;

/** GET /api/tasks; the newest first. */
export const tasksSchema = object({ tasks: array(taskSchema.required()).required() });

const variableSchema = object({
  key: mixed<VariableKey>((value): value is VariableKey =>
    VARIABLE_KEYS.includes(value as VariableKey),
  ).required(),
  low: number().required(),
  high: number().required(),
}).noUnknown();

/** Candidates of one search. */
export const LEAST_CANDIDATES = 10;
export const MOST_CANDIDATES = 2000;

/** POST /api/characters/ID/searches */
export const searchOrderSchema = object({
  garmentId: idField,
  variables: array(variableSchema.required()).required().max(50),
  motions: motionsField,
  runs: number().required().integer().min(LEAST_CANDIDATES).max(MOST_CANDIDATES),
  seed: number().required().integer().min(0).max(0xffffffff),
  /** In place of those of the garment. */
  limits: limitsField,
  /** ms a frame; null for none. */
  budget: number().moreThan(0).nullable().defined(),
  seen: seenSchema.required(),
}).noUnknown();

export interface SearchOrderBody {
  garmentId: string;
  variables: readonly SearchVariable[];
  motions: readonly TrialMotion[];
  runs: number;
  seed: number;
  limits: Limits;
  budget: number | null;
  seen: Seen;
}

/** One candidate of a search: of each variable the share of the way from low to high, and what it measured. */
export interface Candidate extends SearchScore {
  point: readonly number[];
}

export interface SearchState {
  request: {
    garmentId: string;
    variables: readonly SearchVariable[];
    plan: SearchPlan;
    limits?: Limits;
    budget: number | null;
  };
  results: readonly Candidate[];
}

/** GET /api/tasks/ID/results */
export const searchStateSchema = object({
  request: opaque<SearchState['request']>(),
  results: opaque<readonly Candidate[]>(),
});
