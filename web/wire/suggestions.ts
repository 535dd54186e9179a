import { array, boolean, number, object, string } from 'yup';
import type { SuggestedKind, SuggestionRequest, SuggestionStep } from '../../core/suggest/index.ts';
import { type Seen, seenSchema } from './characters.ts';
import { countField, idField, opaque } from './fields.ts';

const KINDS: readonly SuggestedKind[] = ['sphere', 'capsule', 'taperedCapsule'];

const clipsField = array(countField).required().min(1).max(1000);

/** Bodies of one set at most. */
const MOST_BODIES = 64;

/** POST /api/characters/ID/suggestions/bodies */
export const bodiesOrderSchema = object({
  bodySetId: idField,
  clips: clipsField,
  goal: object({
    bodies: number().integer().min(1).max(MOST_BODIES).required(),
    /** m and m² */
    penetration: number().min(0).required(),
    showThrough: number().min(0).required(),
  })
    .noUnknown()
    .required(),
  kinds: array(string().oneOf(KINDS).required()).required().min(1).max(KINDS.length),
  mirrors: boolean().required(),
  /** m */
  margin: number().min(0).max(1).required(),
  keptIds: array(idField).required().max(1000),
  seen: seenSchema.required(),
}).noUnknown();

export interface BodiesOrderBody extends SuggestionRequest {
  seen: Seen;
}

/** Vertices of a garment at most. */
const MOST_POINTS = 1_000_000;

/** POST /api/characters/ID/suggestions/reach */
export const reachOrderSchema = object({
  garmentId: idField,
  /** Picked vertices; null: what is held, or the highest border. */
  seam: object({
    count: countField.max(MOST_POINTS),
    points: array(countField.max(MOST_POINTS)).required().max(MOST_POINTS),
  })
    .noUnknown()
    .nullable()
    .defined(),
  clips: clipsField,
  seen: seenSchema.required(),
}).noUnknown();

export interface ReachOrderBody {
  garmentId: string;
  seam: { count: number; points: number[] } | null;
  clips: number[];
  seen: Seen;
}

/** GET /api/tasks/ID/results, of suggestions. */
export const bodiesFoundSchema = object({
  request: opaque<SuggestionRequest>(),
  results: opaque<readonly SuggestionStep[]>(),
});
export const reachFoundSchema = object({
  request: opaque<object>(),
  results: opaque<readonly { values: readonly number[] }[]>(),
});
