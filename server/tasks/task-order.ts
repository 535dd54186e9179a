import type { Limits } from '../../core/document/index.ts';
import type { SearchVariable } from '../../core/search/index.ts';
import type { SuggestionRequest } from '../../core/suggest/index.ts';
import type { TrialMotion, TrialPlan } from '../../core/trials/index.ts';
import type { SeenState } from '../services/seen-state.ts';
import type { ReachRequest } from '../work/jobs/index.ts';

/** What every order says. */
interface Order {
  /** What the page shows that asks for it. */
  seen?: SeenState;
}

export interface TrialOrder extends Order {
  plan: TrialPlan;
  /** Started by itself: takes the place of such a one that has not ended. */
  isAutomatic: boolean;
}

export interface SearchOrder extends Order {
  garmentId: string;
  variables: readonly SearchVariable[];
  /** What each candidate plays, as everything is set. */
  motions: readonly TrialMotion[];
  /** Candidates in all. */
  runs: number;
  seed: number;
  /** In place of those of the garment. */
  limits: Limits;
  /** ms a frame; null for none. */
  budget: number | null;
}

export interface BodiesOrder extends Order, Omit<SuggestionRequest, 'bodySetId' | 'keptIds'> {
  bodySetId: string;
  keptIds: readonly string[];
}

export interface AdviceOrder extends Order {
  clips: readonly number[];
  /** ms a frame. */
  budget: number;
}

export interface LevelsOrder extends Order {
  clips: readonly number[];
}

export interface ReachOrder extends Order, Omit<ReachRequest, 'garmentId'> {
  garmentId: string;
}
