import { solveConjugate } from '../math/index.ts';
import { applyLaplacian, buildCotangentLaplacian, type Surface } from '../mesh/index.ts';
import type { PointSet } from './pick-points.ts';
import { evaluateCurve, type RampCurve } from './ramp-curve.ts';
import { compareValues, type SparseChange } from './sparse-change.ts';

/** Residual at which the solution is good to six digits. */
const TOLERANCE = 1e-9;

/**
 * How far along the way from one set of points to another each point lies: 0 at the low end, 1 at the high end, and
 * between them the harmonic field of the surface, which has no hills or hollows of its own. It bends around holes and
 * spreads evenly over what lies between.
 *
 * @param low, high - The two ends; a point in both counts as low.
 * @returns [n]; NaN on pieces of the surface that do not join both ends.
 * @throws {RangeError} When an end is empty, or no piece has both.
 *
 * Reference: the weights are those of U. Pinkall, K. Polthier 1993, see `buildCotangentLaplacian`, none below zero: so
 * every value lies between those around it.
 */
export function computeRamp(surface: Surface, low: PointSet, high: PointSet): Float32Array {
  const count = low.length;
  if (!low.includes(1)) throw new RangeError('The low end of the ramp has no vertices: pick some.');
  if (!high.includes(1)) throw new RangeError('The high end of the ramp has no vertices: pick some.');
  const laplacian = buildCotangentLaplacian(surface);
  const isBetween = findJoined(laplacian, low, high);
  if (!isBetween.includes(1))
    throw new RangeError('No piece of the surface joins the two ends of the ramp: pick both on one piece.');
  const shares = new Float64Array(count);
  for (let i = 0; i < count; i++) shares[i] = low[i] ? 0 : high[i] ? 1 : 0.5;
  const isFree = (i: number): boolean => !!isBetween[i] && !low[i] && !high[i];
  const free = Array.from({ length: count }, (_, i) => i).filter(isFree);
  const whole = new Float64Array(count);
  const product = new Float64Array(count);
  for (let i = 0; i < count; i++) whole[i] = !low[i] && high[i] ? 1 : 0;
  applyLaplacian(laplacian, whole, product);
  const right = Float64Array.from(free, (i) => -product[i]!);
  const apply = (x: Float64Array, out: Float64Array): void => {
    whole.fill(0);
    free.forEach((i, f) => {
      whole[i] = x[f]!;
    });
    applyLaplacian(laplacian, whole, product);
    free.forEach((i, f) => {
      out[f] = product[i]!;
    });
  };
  const diagonal = Float64Array.from(free, (i) => laplacian.diagonal[i]!);
  const guess = new Float64Array(free.length).fill(0.5);
  const solved = solveConjugate(apply, diagonal, right, guess, TOLERANCE);
  free.forEach((i, f) => {
    shares[i] = Math.min(1, Math.max(0, solved[f]!));
  });
  return Float32Array.from(shares, (share, i) => (isBetween[i] ? share : Number.NaN));
}

/** Points of pieces that have points of both sets. */
function findJoined(
  { start, columns }: ReturnType<typeof buildCotangentLaplacian>,
  low: PointSet,
  high: PointSet,
): PointSet {
  const joined = new Uint8Array(low.length);
  const seen = new Uint8Array(low.length);
  for (let first = 0; first < low.length; first++) {
    if (seen[first]) continue;
    seen[first] = 1;
    const piece = [first];
    let [hasLow, hasHigh] = [false, false];
    for (const i of piece) {
      hasLow ||= low[i] === 1;
      hasHigh ||= high[i] === 1 && low[i] !== 1;
      for (let k = start[i]!; k < start[i + 1]!; k++) {
        const j = columns[k]!;
        if (seen[j]) continue;
        seen[j] = 1;
        piece.push(j);
      }
    }
    if (hasLow && hasHigh) for (const i of piece) joined[i] = 1;
  }
  return joined;
}

/**
 * Writes a ramp into a map: the low value at one end, the high one at the other, exactly, and along the curve between.
 *
 * @param shares - As `computeRamp` gives them; where they are NaN the map stays.
 */
export function writeRamp(
  values: Float32Array,
  shares: Float32Array,
  lowValue: number,
  highValue: number,
  curve: RampCurve,
  mask: Uint8Array | null = null,
): SparseChange {
  const next = values.map((value, i) => {
    const share = shares[i]!;
    if (Number.isNaN(share)) return value;
    if (share === 0) return lowValue;
    if (share === 1) return highValue;
    return lowValue + evaluateCurve(curve, share) * (highValue - lowValue);
  });
  return compareValues(values, next, mask);
}
