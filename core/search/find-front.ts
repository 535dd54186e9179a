/**
 * Which of several candidates no other beats in everything.
 * @param candidates - Values of each, the less the better. [candidates][values] @returns Indices, in their order.
 */
export function findFront(candidates: readonly (readonly number[])[]): number[] {
  const beats = (p: readonly number[], q: readonly number[]): boolean =>
    p.every((value, k) => value <= q[k]!) && p.some((value, k) => value < q[k]!);
  return [...candidates.keys()].filter((i) => !candidates.some((other) => beats(other, candidates[i]!)));
}
