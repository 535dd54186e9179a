/** Two knots between (0, 0) and (1, 1) that a ramp runs through. Both coordinates rise from knot to knot. */
export interface RampCurve {
  first: readonly [x: number, y: number];
  second: readonly [x: number, y: number];
}

export const EVEN_RAMP: RampCurve = { first: [1 / 3, 1 / 3], second: [2 / 3, 2 / 3] };

/** Knots are never nearer to each other or to an end than this along x. */
const LEAST_GAP = 0.02;

/** A curve with one knot moved, as far as it may go: never past the other or the ends. */
export function moveKnot(curve: RampCurve, knot: 'first' | 'second', x: number, y: number): RampCurve {
  const [low, high] = knot === 'first' ? [[0, 0] as const, curve.second] : [curve.first, [1, 1] as const];
  const within = (value: number, from: number, to: number): number => Math.min(to, Math.max(from, value));
  const place = [within(x, low[0] + LEAST_GAP, high[0] - LEAST_GAP), within(y, low[1], high[1])] as const;
  return { ...curve, [knot]: place };
}

/**
 * The curve at a share of the way: 0 at 0, 1 at 1, never falling.
 *
 * Reference: F. Fritsch, R. Carlson, *Monotone piecewise cubic interpolation*, SIAM J. Numerical Analysis 17(2), 1980,
 * with the three-point slopes of Fritsch and Butland 1984 (weighted harmonic means), which are monotone as they are.
 */
export function evaluateCurve({ first, second }: RampCurve, t: number): number {
  if (!(t > 0)) return 0;
  if (t >= 1) return 1;
  const x = [0, first[0], second[0], 1];
  const y = [0, first[1], second[1], 1];
  const k = t < x[1]! ? 0 : t < x[2]! ? 1 : 2;
  const width = x[k + 1]! - x[k]!;
  const u = (t - x[k]!) / width;
  const [from, to] = [slopeAt(x, y, k), slopeAt(x, y, k + 1)];
  const rise = y[k + 1]! - y[k]!;
  // Cubic Hermite form.
  const cubic = y[k]! + u * u * (3 - 2 * u) * rise + width * u * (1 - u) * ((1 - u) * from - u * to);
  return Math.min(1, Math.max(0, cubic));
}

function slopeAt(x: readonly number[], y: readonly number[], k: number): number {
  const slope = (i: number): number => (y[i + 1]! - y[i]!) / (x[i + 1]! - x[i]!);
  if (k === 0) return slope(0);
  if (k === 3) return slope(2);
  const [before, after] = [slope(k - 1), slope(k)];
  if (before <= 0 || after <= 0) return 0;
  const [h, g] = [x[k]! - x[k - 1]!, x[k + 1]! - x[k]!];
  return (3 * (h + g)) / ((2 * g + h) / before + (g + 2 * h) / after);
}
