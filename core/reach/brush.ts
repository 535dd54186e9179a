import type { Neighbours } from '../mesh/index.ts';
import { createSparseChange, type SparseChange } from './sparse-change.ts';
import { type BrushPosition, type TouchedPoints, type TouchedSurface, touchPoints } from './touch-points.ts';

/**
 * What a brush does to a value: `value` goes to the brush's value, `raise` adds it (or lowers by a negative one),
 * `multiply` multiplies by the brush's factor, `evenOut` goes to the mean of the neighbours and `contrast` away from
 * it, `clear` goes to the default.
 */
export type BrushMode = 'value' | 'raise' | 'multiply' | 'evenOut' | 'contrast' | 'clear';

export const BRUSH_MODES: readonly BrushMode[] = [
  'value',
  'raise',
  'multiply',
  'evenOut',
  'contrast',
  'clear',
];

export interface BrushAct {
  mode: BrushMode;
  /** What `value` goes to and `raise` adds at full weight; the factor of `multiply`. */
  value: number;
  /** What `clear` goes to. Default 0. */
  defaultValue?: number;
  /** No value leaves this range. Default: from 0 up. */
  range?: readonly [low: number, high: number];
  /** Nearer to where it goes than this a value is there: no stroke ends a hair beside 0. Default 0. */
  snap?: number;
  /** Only where it is non-zero; null: everywhere. [n] */
  mask?: Uint8Array | null;
}

export interface Dab extends BrushPosition, BrushAct {}

export interface BrushSurface extends TouchedSurface {
  neighbours: Neighbours;
}

/** The change that one dab makes to a map; `values` itself is not touched. */
export function computeDab(values: Float32Array, surface: BrushSurface, dab: Dab): SparseChange {
  return brushPoints(values, surface.neighbours, touchPoints(surface, dab), dab);
}

/** The change that a brush makes to the points it touches. Means of neighbours are all read before any value is written. */
export function brushPoints(
  values: Float32Array,
  neighbours: Neighbours,
  { points, weights }: TouchedPoints,
  act: BrushAct,
): SparseChange {
  const [low, high] = act.range ?? [0, Number.POSITIVE_INFINITY];
  const { mask, snap = 0 } = act;
  const after = new Float32Array(points.length);
  points.forEach((i, k) => {
    const value = values[i]!;
    after[k] = value;
    if (mask && !mask[i]) return;
    const wanted = computeWanted(values, neighbours, i, act);
    const next = value + weights[k]! * (wanted - value);
    const isThere = (act.mode === 'value' || act.mode === 'clear') && Math.abs(next - wanted) < snap;
    after[k] = Math.min(high, Math.max(low, isThere ? wanted : next));
  });
  return createSparseChange(values, points, after);
}

/** What a brush of full weight makes of a value. */
function computeWanted(values: Float32Array, neighbours: Neighbours, i: number, act: BrushAct): number {
  const value = values[i]!;
  switch (act.mode) {
    case 'value':
      return act.value;
    case 'raise':
      return value + act.value;
    case 'multiply':
      return value * act.value;
    case 'evenOut':
      return computeNeighbourMean(values, neighbours, i);
    case 'contrast':
      return 2 * value - computeNeighbourMean(values, neighbours, i);
    case 'clear':
      return act.defaultValue ?? 0;
  }
}

/** Mean of the values around a point; of one without neighbours its own. */
export function computeNeighbourMean(
  values: Float32Array,
  { start, list }: Neighbours,
  point: number,
): number {
  const from = start[point]!;
  const to = start[point + 1]!;
  if (from === to) return values[point]!;
  let sum = 0;
  for (let k = from; k < to; k++) sum += values[list[k]!]!;
  return sum / (to - from);
}
