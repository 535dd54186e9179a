import type { Neighbours } from '../mesh/index.ts';
import { computeNeighbourMean } from './brush.ts';
import { type ChannelKind, limitValue } from './channels/index.ts';
import { compareValues, type SparseChange } from './sparse-change.ts';

/** What an operation on a whole map keeps to. */
export interface WholeMapOptions {
  kind: ChannelKind;
  /** Only these points; null: all. [n] */
  mask?: Uint8Array | null;
  /** A max distance of 0 stays 0, so that no seam comes loose. Default true. */
  keepsHeld?: boolean;
}

/** Applies a rule to every value. */
function mapValues(
  values: Float32Array,
  { kind, mask = null, keepsHeld = true }: WholeMapOptions,
  rule: (value: number, point: number) => number,
): SparseChange {
  const isKept = (value: number): boolean => keepsHeld && kind === 'maxDistance' && value === 0;
  const next = values.map((value, i) => (isKept(value) ? value : limitValue(kind, rule(value, i))));
  return compareValues(values, next, mask);
}

/** Every value set to one; held points too. */
export function computeFlood(values: Float32Array, value: number, options: WholeMapOptions): SparseChange {
  return mapValues(values, { ...options, keepsHeld: false }, () => value);
}

/** Adds to every value. */
export function computeOffset(values: Float32Array, by: number, options: WholeMapOptions): SparseChange {
  return mapValues(values, options, (value) => value + by);
}

/** Multiplies every value. */
export function computeScaled(values: Float32Array, factor: number, options: WholeMapOptions): SparseChange {
  return mapValues(values, options, (value) => value * factor);
}

/** Brings every value within a range. @throws {RangeError} When it is upside down. */
export function computeClamped(
  values: Float32Array,
  low: number,
  high: number,
  options: WholeMapOptions,
): SparseChange {
  if (!(low <= high)) throw new RangeError(`the lower limit ${low} lies above the upper one ${high}`);
  return mapValues(values, options, (value) => Math.min(high, Math.max(low, value)));
}

/**
 * Turns a map upside down between its smallest and largest value: what was held is freest, and the other way round.
 * Twice is as before, but for rounding.
 */
export function computeInverted(values: Float32Array, options: WholeMapOptions): SparseChange {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  values.forEach((value, i) => {
    if (options.mask && !options.mask[i]) return;
    low = Math.min(low, value);
    high = Math.max(high, value);
  });
  return mapValues(values, { ...options, keepsHeld: false }, (value) => low + high - value);
}

/** Every value moved to the mean of its neighbours by `strength`, `passes` times. */
export function computeSmoothAll(
  values: Float32Array,
  neighbours: Neighbours,
  strength: number,
  passes: number,
  options: WholeMapOptions,
): SparseChange {
  const { kind, mask = null, keepsHeld = true } = options;
  const isFixed = (i: number): boolean =>
    (mask !== null && !mask[i]) || (keepsHeld && kind === 'maxDistance' && values[i] === 0);
  let current = values.slice();
  for (let pass = 0; pass < passes; pass++) {
    const next = current.slice();
    for (let i = 0; i < values.length; i++) {
      if (isFixed(i)) continue;
      next[i] = current[i]! + strength * (computeNeighbourMean(current, neighbours, i) - current[i]!);
    }
    current = next;
  }
  return compareValues(values, current);
}
