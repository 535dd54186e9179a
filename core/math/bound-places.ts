import type { MutableVector3 } from './vectors.ts';

/** The box around places. */
export interface Bounds {
  low: MutableVector3;
  high: MutableVector3;
}

/** @param positions - [n, 3]. @returns the box around them; of none, from Infinity to -Infinity. */
export function boundPlaces(positions: ArrayLike<number>): Bounds {
  const low: MutableVector3 = [Infinity, Infinity, Infinity];
  const high: MutableVector3 = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    const k = i % 3;
    low[k] = Math.min(low[k]!, positions[i]!);
    high[k] = Math.max(high[k]!, positions[i]!);
  }
  return { low, high };
}

/** From corner to corner; 0 of nothing. */
export function measureDiagonal({ low, high }: Bounds): number {
  const [x, y, z] = [0, 1, 2].map((k) => Math.max(0, high[k]! - low[k]!)) as MutableVector3;
  return Math.sqrt(x * x + y * y + z * z);
}
