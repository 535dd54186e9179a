import { expect } from 'chai';
import { countBodiesTried, listFoundSets, type SuggestionStep } from './found-sets.ts';
import type { PlacedShape } from './list-candidates.ts';

const shape = { kind: 'sphere', a: [0, 0, 0], b: [0, 0, 0], radiusA: 0.1, radiusB: 0.1 } as const;
const body: PlacedShape = { node: 1, margin: 0, shape: { ...shape, a: [0, 0, 0], b: [0, 0, 0] } };

function measured(clip: number, penetration: number, showThrough: number, cost: number): SuggestionStep {
  const demand = { clip, penetration, showThrough, mostShowThrough: 2 * showThrough, deepest: null, cost };
  return { kind: 'measured', demand };
}

describe('sets that were found', () => {
  const steps: SuggestionStep[] = [
    { kind: 'chosen', bodies: [] },
    measured(0, 0.02, 4e-4, 1),
    measured(2, 0.03, 2e-4, 2),
    { kind: 'chosen', bodies: [body, body] },
    measured(0, 0.01, 1e-4, 3),
    measured(2, 0.004, 3e-4, 1),
    { kind: 'chosen', bodies: null },
  ];

  it('are the worst in depth, and the mean in area and cost, of all clips', () => {
    const sets = listFoundSets(steps, 2);
    expect(sets.map(({ bodies }) => bodies.length)).deep.equal([0, 2]);
    expect(sets.map(({ penetration }) => penetration)).deep.equal([0.03, 0.01]);
    expect(sets[0]!.showThrough).closeTo(3e-4, 1e-12);
    expect(sets[1]!.cost).equal(2);
    expect(sets[1]!.demands.map(({ clip }) => clip)).deep.equal([0, 2]);
  });

  it('are those whose clips are all through, while one more is simulated', () => {
    expect(listFoundSets(steps.slice(0, 5), 2).length).equal(1);
    expect(countBodiesTried(steps.slice(0, 5), 2)).equal(2);
    expect(countBodiesTried(steps.slice(0, 2), 2)).equal(0);
    expect(countBodiesTried(steps.slice(0, 6), 2)).equal(null);
    expect(countBodiesTried(steps, 2)).equal(null);
    expect(countBodiesTried([], 2)).equal(null);
  });
});
