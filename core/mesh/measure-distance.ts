import type { EdgeTable } from './edge-table.ts';

/** Lengths of the edges of a table between places [n, 3]. */
export function measureLengths(positions: Float32Array, { edges, edgeCount }: EdgeTable): Float32Array {
  const lengths = new Float32Array(edgeCount);
  for (let e = 0; e < edgeCount; e++)
    lengths[e] = measureDistance(positions, edges[2 * e]!, edges[2 * e + 1]!);
  return lengths;
}

/** Distance of two points of an array, [n, 3], in its unit. */
export function measureDistance(positions: Float32Array, a: number, b: number): number {
  let sum = 0;
  for (let k = 0; k < 3; k++) sum += (positions[3 * a + k]! - positions[3 * b + k]!) ** 2;
  return Math.sqrt(sum);
}
