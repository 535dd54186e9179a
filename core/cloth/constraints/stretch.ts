import type { CompiledGarment } from '../compiled-garment.ts';

/**
 * One pass over the stretch pairs: C = |x_a - x_b| - rest, compliance 1 / (stiffness · shape).
 * Equation (18) of the XPBD paper with λ = 0 at the start of a substep.
 *
 * @param x - [n, 4], changed. @param stiffness - N/m. @param h - Seconds of the substep.
 */
export function solveStretch(garment: CompiledGarment, x: Float32Array, stiffness: number, h: number): void {
  const { stretchPairs, stretchRest, stretchShape } = garment;
  const perShape = 1 / (stiffness * h * h);
  for (let s = 0; s < stretchRest.length; s++) {
    const a = 4 * stretchPairs[2 * s]!;
    const b = 4 * stretchPairs[2 * s + 1]!;
    const wa = x[a + 3]!;
    const wb = x[b + 3]!;
    const shape = stretchShape[s]!;
    if (wa + wb === 0 || shape === 0) continue;
    const dx = x[b]! - x[a]!;
    const dy = x[b + 1]! - x[a + 1]!;
    const dz = x[b + 2]! - x[a + 2]!;
    const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
    if (length === 0) continue;
    const pull = (length - stretchRest[s]!) / ((wa + wb + perShape / shape) * length);
    x[a] = x[a]! + wa * pull * dx;
    x[a + 1] = x[a + 1]! + wa * pull * dy;
    x[a + 2] = x[a + 2]! + wa * pull * dz;
    x[b] = x[b]! - wb * pull * dx;
    x[b + 1] = x[b + 1]! - wb * pull * dy;
    x[b + 2] = x[b + 2]! - wb * pull * dz;
  }
}
