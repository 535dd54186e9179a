const PRIMES = [2, 3, 5, 7, 11, 13, 17, 19, 23, 29, 31, 37, 41, 43, 47, 53, 59, 61, 67, 71, 73, 79, 83, 89];

/** Most dimensions that points can have. */
export const MOST_DIMENSIONS = PRIMES.length;

/**
 * The n-th point of a sequence that fills a cube evenly from the first points on.
 *
 * Reference: J. Halton, *On the Efficiency of Certain Quasi-Random Sequences of Points in Evaluating Multi-Dimensional Integrals*,
 * Numerische Mathematik 2, 1960; shifted as a whole: R. Cranley, T. Patterson, *Randomization of Number Theoretic Methods for Multiple
 * Integration*, SIAM J. Numer. Anal. 13, 1976.
 *
 * @param n - From 0. @param shift - Of each dimension, 0 to 1. @returns Each in [0, 1). [shift.length]
 */
export function haltonPoint(n: number, shift: readonly number[]): number[] {
  return shift.map((by, dimension) => {
    const base = PRIMES[dimension]!;
    let value = 0;
    for (let rest = n + 1, scale = 1 / base; rest > 0; rest = Math.floor(rest / base), scale /= base)
      value += (rest % base) * scale;
    return (value + by) % 1;
  });
}
