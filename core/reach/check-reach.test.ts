import { expect } from 'chai';
import fc from 'fast-check';
import { createSheet } from '../cloth/test-cloth.ts';
import { buildEdgeTable, buildNeighbours } from '../mesh/index.ts';
import { type CheckedReach, checkReach, computeUsableReach } from './check-reach.ts';

/** A metre of cloth of 11 × 11 points, held at the top; reach grows towards the hem. */
function createReach(value: (row: number, point: number) => number): CheckedReach {
  const { positions, triangles } = createSheet(10, 10, (u, v) => [u, -v, 0]);
  const values = Float32Array.from({ length: 121 }, (_, i) => value(Math.floor(i / 11), i));
  return { values, positions, neighbours: buildNeighbours(buildEdgeTable(triangles, 121), 121) };
}

const kinds = (reach: CheckedReach): string[] => checkReach(reach).map(({ kind }) => kind);

describe('checks of reach', () => {
  it('find nothing in a map that grows from a held seam', () => {
    expect(kinds(createReach((row) => 0.08 * row))).deep.equal([]);
  });

  it('say when nothing or everything is held', () => {
    expect(kinds(createReach(() => 0.1))).deep.equal(['nothing-held']);
    expect(kinds(createReach(() => 0))).deep.equal(['all-held']);
  });

  it('find a piece that nothing holds, unless it rides on another', () => {
    const held = createReach((row) => 0.08 * row);
    const count = 124;
    const reach = {
      values: Float32Array.of(...held.values, 0.2, 0.2, 0.2),
      positions: Float32Array.of(...held.positions, 3, 0, 0, 3.1, 0, 0, 3, 0.1, 0),
      neighbours: {
        start: Uint32Array.of(
          ...held.neighbours.start,
          ...[2, 4, 6].map((k) => held.neighbours.list.length + k),
        ),
        list: Uint32Array.of(...held.neighbours.list, 122, 123, 121, 123, 121, 122),
      },
    };
    expect(checkReach(reach)).deep.equal([{ kind: 'unheld-piece', points: [121, 122, 123], count: 1 }]);
    const isLining = Uint8Array.from({ length: count }, (_, i) => (i >= 121 ? 1 : 0));
    expect(checkReach({ ...reach, isLining })).deep.equal([]);
  });

  it('find a single value that fits none around it', () => {
    const stray = checkReach(createReach((row, i) => (i === 71 ? 0 : 0.08 * row)));
    expect(stray.find(({ kind }) => kind === 'stray')!.points).deep.equal([71]);
    // Held alone, it holds back what lies around it, too.
    expect(stray[0]!.kind).equal('out-of-reach');
  });

  it('find what is allowed farther than the cloth lets it', () => {
    const found = checkReach(createReach((row) => (row === 0 ? 0 : 0.6)));
    expect(found[0]!.kind).equal('out-of-reach');
    // A row is 0.1 m from the next: 0.2, 0.4, and then 0.6 is within.
    expect(found[0]!.points).deep.equal(Array.from({ length: 22 }, (_, i) => 11 + i));
  });
});

describe('usable reach', () => {
  it('is never above what is allowed, and no two joined points differ by more than twice their edge', () => {
    const { positions, neighbours } = createReach(() => 0);
    fc.assert(
      fc.property(
        fc.array(fc.float({ min: 0, max: 2, noNaN: true }), { minLength: 121, maxLength: 121 }),
        (list) => {
          const values = Float32Array.from(list);
          const usable = computeUsableReach(values, neighbours, positions);
          for (let i = 0; i < 121; i++) {
            expect(usable[i]).at.most(values[i]!);
            for (let k = neighbours.start[i]!; k < neighbours.start[i + 1]!; k++) {
              const j = neighbours.list[k]!;
              const edge = Math.hypot(...[0, 1, 2].map((c) => positions[3 * i + c]! - positions[3 * j + c]!));
              expect(usable[i]! - usable[j]!).at.most(2 * edge + 1e-6);
            }
          }
        },
      ),
      { numRuns: 40 },
    );
  });
});
