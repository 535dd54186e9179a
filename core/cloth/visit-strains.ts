import type { CompiledGarment } from './compiled-garment.ts';

/**
 * Strain of each edge of a garment, as it stands: 0.04 is 4 % longer than at rest. Edges without a length have -1, as if they were
 * nothing but a point.
 *
 * @param rows - Positions of its points, [n, 4], m. @param out - [edges]
 */
export function writeStrains(
  { stretchPairs, stretchRest }: CompiledGarment,
  rows: Float32Array,
  out: Float32Array,
): void {
  for (let s = 0; s < stretchRest.length; s++) {
    const rest = stretchRest[s]!;
    const a = 4 * stretchPairs[2 * s]!;
    const b = 4 * stretchPairs[2 * s + 1]!;
    const dx = rows[b]! - rows[a]!;
    const dy = rows[b + 1]! - rows[a + 1]!;
    const dz = rows[b + 2]! - rows[a + 2]!;
    out[s] = rest === 0 ? -1 : Math.sqrt(dx * dx + dy * dy + dz * dz) / rest - 1;
  }
}

/**
 * The same, edge by edge, of those that have a length.
 *
 * @param visit - Strain, length at rest (m), and the rows of the edge's ends.
 */
export function visitStrains(
  garment: CompiledGarment,
  rows: Float32Array,
  visit: (strain: number, rest: number, a: number, b: number) => void,
): void {
  const { stretchPairs, stretchRest } = garment;
  const strains = new Float32Array(stretchRest.length);
  writeStrains(garment, rows, strains);
  strains.forEach((strain, s) => {
    if (stretchRest[s] !== 0) visit(strain, stretchRest[s]!, stretchPairs[2 * s]!, stretchPairs[2 * s + 1]!);
  });
}
