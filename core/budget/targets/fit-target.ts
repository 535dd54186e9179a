import { type FitError, type FittedGroup, priceWork, type UnitCosts } from '../../cost/index.ts';
import { solveDense, solveNonNegative } from '../../math/index.ts';
import { FRAME_RATE, type RunWork } from '../../run/index.ts';
import { COST_GROUPS } from './cost-groups.ts';

/** What somebody measured of a garment. */
export interface GarmentTimings {
  name: string;
  work: RunWork;
  /** ms a frame, each time that it was measured. */
  milliseconds: readonly number[];
}

export interface TargetFit {
  costs: UnitCosts;
  groups: FittedGroup[];
  /** On the garments that were timed. */
  timed: FitError[];
}

/** A factor whose standard error is above this share of the factor of all work together is not told by the timings. */
const MOST_ERROR = 0.25;
/** Measured times are never better than this. */
const LEAST_NOISE = 0.005;
/** Errors are relative to what is predicted, which the fit itself tells: so often. */
const ROUNDS = 4;

/**
 * Unit costs of a target from timings there: those of the machine `base` times one factor for each group of kinds of work, by non-negative
 * least squares on relative errors. Factors that the timings do not tell are that of all work together. Ours.
 *
 * @throws {RangeError} When nothing was timed.
 */
export function fitTarget(timings: readonly GarmentTimings[], base: UnitCosts): TargetFit {
  if (timings.length === 0) throw new RangeError('Nothing was timed: at least one garment is needed.');
  const measured = timings.map(({ milliseconds }) => mean(milliseconds));
  const rows = timings.map(({ work }) =>
    COST_GROUPS.map(
      ({ units }) => priceWork(work, { costs: keepUnits(base, units), framesPerSecond: FRAME_RATE }).total,
    ),
  );
  const overall = fitOverall(rows, measured);
  const isAssumed = COST_GROUPS.map((_, g) => rows.every((row) => row[g] === 0));
  for (;;) {
    const { factors, errors } = fitFactors(rows, measured, isAssumed, overall);
    const worst = errors.indexOf(Math.max(...errors));
    if (isAssumed[worst] || errors[worst]! <= MOST_ERROR * overall)
      return conclude(timings, measured, base, { factors, errors, isAssumed });
    isAssumed[worst] = true;
  }
}

function conclude(
  timings: readonly GarmentTimings[],
  measured: readonly number[],
  base: UnitCosts,
  { factors, errors, isAssumed }: { factors: number[]; errors: number[]; isAssumed: boolean[] },
): TargetFit {
  const costs = { ...base };
  COST_GROUPS.forEach(({ units }, g) => {
    for (const unit of units) costs[unit] = base[unit] * factors[g]!;
  });
  return {
    costs,
    groups: COST_GROUPS.map(({ key }, g) => ({
      key,
      factor: factors[g]!,
      error: errors[g]!,
      isAssumed: isAssumed[g]!,
    })),
    timed: timings.map(({ name, work }, i) => ({
      name,
      predicted: priceWork(work, { costs, framesPerSecond: FRAME_RATE }).total,
      measured: measured[i]!,
    })),
  };
}

/** One factor for all work. */
function fitOverall(rows: readonly (readonly number[])[], measured: readonly number[]): number {
  return mean(rows.map((row, i) => measured[i]! / sum(row)));
}

/** Factors of the groups and their standard errors; those that are assumed are `overall`, with no error. */
function fitFactors(
  rows: readonly (readonly number[])[],
  measured: readonly number[],
  isAssumed: readonly boolean[],
  overall: number,
): { factors: number[]; errors: number[] } {
  const free = isAssumed.flatMap((assumed, g) => (assumed ? [] : [g]));
  const factors = isAssumed.map(() => overall);
  const errors = isAssumed.map(() => 0);
  if (free.length === 0) return { factors, errors };
  const spread = (weights: readonly number[]): Float64Array =>
    Float64Array.from(rows.flatMap((row, i) => free.map((g) => row[g]! / weights[i]!)));
  const known = rows.map((row) => sum(row.map((value, g) => (isAssumed[g] ? value * overall : 0))));
  const predict = (): number[] => rows.map((row) => sum(row.map((value, g) => value * factors[g]!)));
  let weights: readonly number[] = measured;
  for (let round = 0; round < ROUNDS; round++) {
    const right = Float64Array.from(measured, (value, i) => (value - known[i]!) / weights[i]!);
    const found = solveNonNegative(spread(weights), right);
    free.forEach((g, k) => {
      factors[g] = found[k]!;
    });
    // Nothing can cost nothing: what was measured bounds what it is relative to.
    weights = predict().map((value, i) => Math.max(value, 0.1 * measured[i]!));
  }
  const residuals = predict().map((value, i) => (measured[i]! - value) / weights[i]!);
  const spare = rows.length - free.length;
  const noise = Math.max(LEAST_NOISE, Math.sqrt(sum(residuals.map((r) => r * r)) / Math.max(1, spare)));
  const variances = spare > 0 ? invertDiagonal(spread(weights), free.length) : free.map(() => Infinity);
  free.forEach((g, k) => {
    const variance = variances[k]!;
    // Columns that say the same as others have no inverse.
    errors[g] = variance >= 0 && Number.isFinite(variance) ? noise * Math.sqrt(variance) : Infinity;
  });
  return { factors, errors };
}

/** Diagonal of the inverse of AᵀA. @param matrix - [m, n] row by row. */
function invertDiagonal(matrix: Float64Array, n: number): number[] {
  const m = matrix.length / n;
  const gram = new Float64Array(n * n);
  for (let i = 0; i < m; i++)
    for (let p = 0; p < n; p++)
      for (let q = 0; q < n; q++)
        gram[n * p + q] = gram[n * p + q]! + matrix[n * i + p]! * matrix[n * i + q]!;
  return Array.from({ length: n }, (_, k) => {
    const unit = new Float64Array(n);
    unit[k] = 1;
    return solveDense(gram.slice(), unit)[k]!;
  });
}

function keepUnits(base: UnitCosts, units: readonly string[]): UnitCosts {
  return Object.fromEntries(
    Object.entries(base).map(([unit, cost]) => [unit, units.includes(unit) ? cost : 0]),
  ) as UnitCosts;
}

function sum(values: readonly number[]): number {
  return values.reduce((total, value) => total + value, 0);
}

function mean(values: readonly number[]): number {
  return sum(values) / values.length;
}
