import { expect } from 'chai';
import fc from 'fast-check';
import { DisjointSets } from './disjoint-sets.ts';

describe('disjoint sets', () => {
  it('group what is joined by any chain of pairs, in any order, under the lowest member', () => {
    const pair = fc.tuple(fc.nat({ max: 29 }), fc.nat({ max: 29 }));
    fc.assert(
      fc.property(fc.array(pair, { maxLength: 40 }), (pairs) => {
        const sets = new DisjointSets(30);
        for (const [p, q] of pairs) sets.join(p, q);
        // Slow and plain: spread the lowest number along the pairs until nothing changes.
        const lowest = Array.from({ length: 30 }, (_, i) => i);
        for (let round = 0; round < 30; round++) {
          for (const [p, q] of pairs) lowest[p] = lowest[q] = Math.min(lowest[p]!, lowest[q]!);
        }
        for (let i = 0; i < 30; i++) expect(sets.find(i)).equal(lowest[i]);
      }),
    );
  });
});
