import type { PlacedShape } from './list-candidates.ts';
import type { Demand } from './measure-demand.ts';

/** What parts of a suggestion found: a set that was chosen (null: there is no better one), and what it left open on a clip. */
export type SuggestionStep =
  | { kind: 'chosen'; bodies: readonly PlacedShape[] | null }
  | { kind: 'measured'; demand: Omit<Demand, 'weights'> };

/** A set that was simulated on all clips. */
export interface FoundSet {
  bodies: readonly PlacedShape[];
  /** m; m², the mean of the clips' means; milliseconds a frame. */
  penetration: number;
  showThrough: number;
  cost: number;
  /** The same by clip. */
  demands: readonly Omit<Demand, 'weights'>[];
}

/** The sets that steps tell of, as they were tried; without one that is being simulated. @param clipCount - Clips of each. */
export function listFoundSets(steps: readonly SuggestionStep[], clipCount: number): FoundSet[] {
  const tried: { bodies: readonly PlacedShape[]; demands: Omit<Demand, 'weights'>[] }[] = [];
  for (const step of steps) {
    if (step.kind === 'measured') tried.at(-1)!.demands.push(step.demand);
    else if (step.bodies) tried.push({ bodies: step.bodies, demands: [] });
  }
  return tried
    .filter(({ demands }) => demands.length === clipCount)
    .map(({ bodies, demands }) => ({
      bodies,
      demands,
      penetration: Math.max(...demands.map(({ penetration }) => penetration)),
      showThrough: mean(demands.map(({ showThrough }) => showThrough)),
      cost: mean(demands.map(({ cost }) => cost)),
    }));
}

/** Bodies of the set that is being simulated; null while none is. */
export function countBodiesTried(steps: readonly SuggestionStep[], clipCount: number): number | null {
  const last = steps.findLastIndex(({ kind }) => kind === 'chosen');
  const step = steps[last];
  if (step?.kind !== 'chosen' || !step.bodies) return null;
  return steps.length - 1 - last < clipCount ? step.bodies.length : null;
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
}
