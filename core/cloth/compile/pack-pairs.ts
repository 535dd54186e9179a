/** Pairs looked at for each place of a pack; more finds little more, and costs as much more. */
const WINDOW = 96;
export const PACK = 4;

/**
 * Puts pairs into packs of four that share no point, so that the four can be solved at once with the result that
 * one after the other would give; where possible a pack shares no point with the one before it either, so that the
 * processor need not wait for its results.
 *
 * @param pairs - [s, 2]. @param pointCount - Their points are below this.
 * @returns place → pair, [packs * 4]; -1 where a place stays empty.
 */
export function packPairs(pairs: Uint32Array, pointCount: number): Int32Array {
  const count = pairs.length / 2;
  const order = Uint32Array.from({ length: count }, (_, s) => s).sort(
    (p, q) => pairs[2 * p]! - pairs[2 * q]! || pairs[2 * p + 1]! - pairs[2 * q + 1]!,
  );
  // Linked list of the pairs that are left, in order.
  const next = new Int32Array(count + 1);
  for (let k = 0; k <= count; k++) next[k] = k + 1;
  const packOfPoint = new Int32Array(pointCount).fill(-2);
  const positions: number[] = [];
  let left = count;
  for (let pack = 0; left > 0; pack++) {
    let filled = 0;
    // First without points of the pack before; then, if places stay empty, with them.
    for (const gap of [1, 0]) {
      let before = 0;
      for (let seen = 0; seen < WINDOW && filled < PACK; seen++) {
        const at = next[before]!;
        if (at > count) break;
        const pair = order[at - 1]!;
        const a = pairs[2 * pair]!;
        const b = pairs[2 * pair + 1]!;
        if (packOfPoint[a]! >= pack - gap || packOfPoint[b]! >= pack - gap) {
          before = at;
          continue;
        }
        next[before] = next[at]!;
        packOfPoint[a] = packOfPoint[b] = pack;
        positions.push(pair);
        filled++;
        left--;
      }
    }
    for (; filled < PACK; filled++) positions.push(-1);
  }
  return Int32Array.from(positions);
}
