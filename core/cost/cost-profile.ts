import type { UnitCosts } from './price-work.ts';
import { REFERENCE_COSTS } from './reference-costs.ts';

/** How far a prediction was from what was measured, of one garment. ms a frame. */
export interface FitError {
  name: string;
  predicted: number;
  measured: number;
}

/** What work costs on a machine, and how that is known. */
export interface CostProfile {
  name: string;
  /** `reference`: the machine that Cobweb is made on; `machine`: measured on the one that it runs on. */
  source: 'reference' | 'machine';
  /** What it was measured on, in words; null: not told. */
  machine: string | null;
  /** ISO date; null: not told. */
  measuredAt: string | null;
  costs: UnitCosts;
  /** Garments that costs were fitted to, and errors on those that they were not. */
  fit: { fitted: number; tried: readonly FitError[] } | null;
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

/** The largest error of a fit, as a share of what was measured; null where it was not tried. */
export function findWorstError({ fit }: Pick<CostProfile, 'fit'>): number | null {
  if (!fit || fit.tried.length === 0) return null;
  return Math.max(...fit.tried.map(({ predicted, measured }) => Math.abs(predicted / measured - 1)));
}
