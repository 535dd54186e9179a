import { type CostProfile, REFERENCE_PROFILE } from './cost-profile.ts';
import type { Pricing } from './price-work.ts';

/** How much of a frame is for the cloth of a character. */
export interface TargetSettings {
  framesPerSecond: number;
  /** Of a frame, 0 to 1. */
  share: number;
  /** ms; null: as follows from the others. */
  budgetMilliseconds: number | null;
  /** That work on cloth at once: on the garments of a character, or on the characters of a crowd. */
  cores: number;
}

/** The machine that the application runs on, among target profiles. */
export const MACHINE_ID = 'machine';

/** A machine that a game runs on: what work costs there, and how much there may be of it. */
export interface TargetProfile extends TargetSettings {
  id: string;
  name: string;
  costs: CostProfile;
}

/** 2 ms of a frame. */
export const TARGET_DEFAULTS: TargetSettings = {
  framesPerSecond: 60,
  share: 0.12,
  budgetMilliseconds: null,
  cores: 1,
};

/** What settings may be. */
export const TARGET_RANGES = {
  framesPerSecond: [10, 240],
  share: [0.001, 1],
  budgetMilliseconds: [0.01, 100],
  cores: [1, 64],
} as const;

/** What counts until the server has told its own. */
export const REFERENCE_TARGET: TargetProfile = {
  id: MACHINE_ID,
  name: REFERENCE_PROFILE.name,
  costs: REFERENCE_PROFILE,
  ...TARGET_DEFAULTS,
};

/** Milliseconds of a frame that cloth may take. */
export function findBudget({ framesPerSecond, share, budgetMilliseconds }: TargetSettings): number {
  return budgetMilliseconds ?? (1000 / framesPerSecond) * share;
}

/** What work is priced by for a target. */
export function toPricing({ costs, framesPerSecond, cores }: TargetProfile): Pricing {
  return { costs: costs.costs, framesPerSecond, ...(cores > 1 && { cores }) };
}
