/**
 * Seeded uniform numbers in [0, 1): the same seed gives the same sequence on every machine.
 *
 * Reference: G. Steele, D. Lea, C. Flood, *Fast Splittable Pseudorandom Number Generators*, OOPSLA 2014, in a
 * 32-bit form.
 */
export function createRandom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x9e3779b9) >>> 0;
    let z = state;
    z = Math.imul(z ^ (z >>> 16), 0x21f0aaad);
    z = Math.imul(z ^ (z >>> 15), 0x735a2d97);
    return ((z ^ (z >>> 15)) >>> 0) / 4294967296;
  };
}
