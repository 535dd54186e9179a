import { number, object } from 'yup';

/** What a trial measures and a limit can be set for, see `MEASURES`. */
export const LIMITED_MEASURES = [
  'showThrough',
  'penetration',
  'penetrationArea',
  'layers',
  'stretch',
  'worstEdge',
  'jitter',
  'scatter',
  'contacts',
  'cost',
] as const;

export type MeasureKey = (typeof LIMITED_MEASURES)[number];

/** Limits in the units of the measures (m, m², shares, ms); null: none, whatever is said elsewhere. What is not named is as elsewhere. */
export type Limits = Partial<Record<MeasureKey, number | null>>;

/** Beyond every limit that means something. */
const MOST_LIMIT = 1e6;

export const limitsField = object(
  Object.fromEntries(
    LIMITED_MEASURES.map((key) => [key, number().nullable().optional().min(0).max(MOST_LIMIT)]),
  ),
)
  .noUnknown()
  .required();
