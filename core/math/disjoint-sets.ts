/**
 * Groups of whole numbers that are joined pair by pair; each group is named by its lowest member, so that the result
 * does not depend on the order of joining.
 *
 * Reference: R. Tarjan, *Efficiency of a good but not linear set union algorithm*, J. ACM 22(2), 1975; path halving, no
 * ranks.
 */
export class DisjointSets {
  readonly #parents: Int32Array;

  /** @param count - Numbers from 0, each a group of its own. */
  constructor(count: number) {
    this.#parents = Int32Array.from({ length: count }, (_, i) => i);
  }

  /** Lowest member of a number's group. */
  find(member: number): number {
    const parents = this.#parents;
    let at = member;
    while (parents[at] !== at) {
      parents[at] = parents[parents[at]!]!;
      at = parents[at]!;
    }
    return at;
  }

  join(p: number, q: number): void {
    const [a, b] = [this.find(p), this.find(q)];
    this.#parents[Math.max(a, b)] = Math.min(a, b);
  }
}
