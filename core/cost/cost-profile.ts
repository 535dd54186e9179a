import type { UnitCosts } from './price-work.ts';
import { REFERENCE_COSTS } from './reference-costs.ts';

/** How far a prediction was from what was measured, of one garment. ms a frame. */
export interface FitError {
  name: string;
  predicted: number;
  measured: number;
}

/** Kinds of work whose unit costs were fitted together, by one factor on those of the machine that they were weighed on. */
export interface FittedGroup {
  key: string;
  factor: number;
  /** Standard error of the factor; 0 where it is assumed. */
  error: number;
  /** What was measured does not tell it: it is as all work together. */
  isAssumed: boolean;
}

/** What work costs on a machine, and how that is known. */
export interface CostProfile {
  name: string;
  /** `reference`: the machine that Cobweb is made on; `machine`: measured on the one that it runs on; `timings`: what somebody measured on another. */
  source: 'reference' | 'machine' | 'timings';
  /** What it was measured on, in words; null: not told. */
  machine: string | null;
  /** ISO date; null: not told. */
  measuredAt: string | null;
  costs: UnitCosts;
  /** Garments that costs were fitted to, and errors on those that they were not. */
  fit: { fitted: number; tried: readonly FitError[] } | null;
  /** Of timings of another machine: how unit costs followed, and how far it is off on the garments that were timed. */
  groups?: readonly FittedGroup[];
  timed?: readonly FitError[];
}

/** What counts until a machine was measured itself. */
export const REFERENCE_PROFILE: CostProfile = {
  name: 'Reference machine',
  source: 'reference',
  machine: null,
  measuredAt: null,
  costs: REFERENCE_COSTS,
  fit: null,
};

/** Timings that a fit is off by more than this on some garment do not go with the work that is counted. */
const DOUBTFUL_ERROR = 0.35;

/** Whether timings look as if something else had been measured. */
export function isDoubtful(profile: Pick<CostProfile, 'source' | 'fit' | 'timed'>): boolean {
  return profile.source === 'timings' && (findWorstError(profile) ?? 0) > DOUBTFUL_ERROR;
}

/** The largest error of a fit, as a share of what was measured; null where it was not tried. */
export function findWorstError({ fit, timed }: Pick<CostProfile, 'fit' | 'timed'>): number | null {
  const errors = fit?.tried ?? timed ?? [];
  if (errors.length === 0) return null;
  return Math.max(...errors.map(({ predicted, measured }) => Math.abs(predicted / measured - 1)));
}
