/**
 * Stiff bending in one step: instead of x = p - z p for a mode of stiffness z (the answer of an explicit step to it),
 * x = R(z) p with a polynomial R of degree m. R(0) = 1 and R'(0) = -1, so that slow modes feel the exact force;
 * between 0 and `bound`, which grows with m², R stays between -0.1 and 1, so that no mode grows and none of those
 * that are faster than the step is left without resistance.
 *
 * R = α + (1 - α) T_m(w₀ - w₁ z) / T_m(w₀), T_m the Chebyshev polynomial, evaluated by its recurrence
 *
 *   y₁ = p + c F(p),   y_k = μ_k y_{k-1} + (1 - μ_k) y_{k-2} + c_k F(y_{k-1}),   x = α p + (1 - α) y_m
 *
 * with F the change that an explicit step would make.
 *
 * Reference: P. van der Houwen, B. Sommeijer, *On the internal stability of explicit, m-stage Runge-Kutta methods for
 * large m-values*, ZAMM 60, 1980. Departure: the constant part α, since places, not their velocities, are filtered:
 * x' = R (x + h v), v = (x' - x) / h is stable for R from -1/3 to 1.
 */
export interface BendFilter {
  steps: number;
  /** Largest answer z of an explicit step that is stable. */
  bound: number;
  /** μ_k and c_k of each step, [steps, 2]; the first has μ = 1. */
  coefficients: Float32Array;
}

/** The constant part of R: keeps it above -0.1. */
export const BEND_FILTER_MEAN = 0.45;
/** How far R stays below 1 at its inner peaks, over 1 - α. */
const INNER_DAMPING = 0.15;
export const MOST_BEND_STEPS = 24;

export const BEND_FILTERS: readonly BendFilter[] = Array.from({ length: MOST_BEND_STEPS }, (_, m) =>
  createFilter(m + 1),
);

function createFilter(steps: number): BendFilter {
  const w0 = 1 + INNER_DAMPING / (steps * steps);
  // T_k(w₀) and its derivative for k = 0 … m.
  const values = [1, w0];
  const slopes = [0, 1];
  for (let k = 2; k <= steps; k++) {
    values[k] = 2 * w0 * values[k - 1]! - values[k - 2]!;
    slopes[k] = 2 * values[k - 1]! + 2 * w0 * slopes[k - 1]! - slopes[k - 2]!;
  }
  const w1 = values[steps]! / ((1 - BEND_FILTER_MEAN) * slopes[steps]!);
  const coefficients = new Float32Array(2 * steps);
  coefficients.set([1, w1 / w0]);
  for (let k = 2; k <= steps; k++) {
    const ratio = values[k - 1]! / values[k]!;
    coefficients.set([2 * w0 * ratio, 2 * w1 * ratio], 2 * (k - 1));
  }
  return { steps, bound: (w0 + 1) / w1, coefficients };
}
