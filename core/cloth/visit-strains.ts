import type { CompiledGarment } from './compiled-garment.ts';

/**
 * Strain of each edge of a garment, as it stands: 0.04 is 4 % longer than at rest. Edges without a length have none.
 *
 * @param rows - Positions of its points, [n, 4], m.
 * @param visit - Strain, length at rest (m), and the rows of the edge's ends.
 */
export function visitStrains(
  { stretchPairs, stretchRest }: CompiledGarment,
  rows: ArrayLike<number>,
  visit: (strain: number, rest: number, a: number, b: number) => void,
): void {
  for (let s = 0; s < stretchRest.length; s++) {
    const rest = stretchRest[s]!;
    if (rest === 0) continue;
    const a = stretchPairs[2 * s]!;
    const b = stretchPairs[2 * s + 1]!;
    const dx = rows[4 * b]! - rows[4 * a]!;
    const dy = rows[4 * b + 1]! - rows[4 * a + 1]!;
    const dz = rows[4 * b + 2]! - rows[4 * a + 2]!;
    visit(Math.sqrt(dx * dx + dy * dy + dz * dz) / rest - 1, rest, a, b);
  }
}
