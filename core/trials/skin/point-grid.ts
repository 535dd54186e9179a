/** Side of a cell, m. */
export const CELL = 0.025;
/** Buckets; a power of two. */
const BUCKETS = 8192;

/** Points in the cells of a grid without bounds, by their hash. Points of other cells may share a bucket. Ours. */
export class PointGrid {
  readonly start = new Uint32Array(BUCKETS + 1);
  list = new Uint32Array(0);
  /** Their places in the order of the list, [n, 3]: what is looked at together lies together. */
  rows = new Float32Array(0);
  #keys = new Uint32Array(0);

  /**
   * Takes other points.
   * @param positions - [n, 3] metres. @param points - Those that count; the first `count` of the list.
   */
  fill(positions: Float32Array, points: Uint32Array, count: number): void {
    if (this.list.length < count) {
      this.list = new Uint32Array(2 * count);
      this.rows = new Float32Array(6 * count);
      this.#keys = new Uint32Array(2 * count);
    }
    const { start, list, rows } = this;
    const keys = this.#keys;
    start.fill(0);
    for (let i = 0; i < count; i++) {
      const o = 3 * points[i]!;
      const bucket = findBucket(
        Math.floor(positions[o]! / CELL),
        Math.floor(positions[o + 1]! / CELL),
        Math.floor(positions[o + 2]! / CELL),
      );
      keys[i] = bucket;
      start[bucket] = start[bucket]! + 1;
    }
    let sum = 0;
    for (let b = 0; b <= BUCKETS; b++) {
      sum += start[b]!;
      start[b] = sum;
    }
    for (let i = count - 1; i >= 0; i--) {
      const bucket = keys[i]!;
      start[bucket] = start[bucket]! - 1;
      const at = start[bucket]!;
      const from = 3 * points[i]!;
      list[at] = points[i]!;
      rows[3 * at] = positions[from]!;
      rows[3 * at + 1] = positions[from + 1]!;
      rows[3 * at + 2] = positions[from + 2]!;
    }
  }
}

/** Bucket of a cell: its points stand at `list[start[b]]` to `list[start[b + 1] - 1]`. */
export function findBucket(x: number, y: number, z: number): number {
  const hash = Math.imul(x, 0x8da6b343) ^ Math.imul(y, 0xd8163841) ^ Math.imul(z, 0xcb1ab31f);
  return (hash ^ (hash >>> 15)) & (BUCKETS - 1);
}
