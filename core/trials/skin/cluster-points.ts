/** Most points of a cluster. */
const CLUSTER = 32;

/**
 * Points in clusters of neighbours, by halving along the longest axis. Ours.
 *
 * @param positions - [n, 3] metres.
 * @returns the points cluster by cluster, and where each cluster begins and the last ends, [clusters + 1].
 */
export function clusterPoints(positions: Float32Array): { order: Uint32Array; clusters: Uint32Array } {
  const order = Uint32Array.from({ length: positions.length / 3 }, (_, p) => p);
  const starts: number[] = [];
  if (order.length > 0) split(positions, order, 0, order.length, starts);
  return { order, clusters: Uint32Array.from([...starts, order.length]) };
}

function split(
  positions: Float32Array,
  order: Uint32Array,
  first: number,
  end: number,
  starts: number[],
): void {
  if (end - first <= CLUSTER) {
    starts.push(first);
    return;
  }
  const sizes = [0, 1, 2].map((k) => {
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let i = first; i < end; i++) {
      const value = positions[3 * order[i]! + k]!;
      low = Math.min(low, value);
      high = Math.max(high, value);
    }
    return high - low;
  });
  const axis = sizes.indexOf(Math.max(...sizes));
  order.subarray(first, end).sort((p, q) => positions[3 * p + axis]! - positions[3 * q + axis]! || p - q);
  const middle = (first + end) >> 1;
  split(positions, order, first, middle, starts);
  split(positions, order, middle, end, starts);
}
