import { expect } from 'chai';
import type { RecordId } from '../document/index.ts';
import { resolveLimits } from '../trials/index.ts';
import {
  type AssetFigures,
  advise,
  type BudgetChange,
  judgeChange,
  readAdvice,
  withScatter,
} from './index.ts';

const GARMENT = 'g' as RecordId;
const LIMITS = new Map([[GARMENT, resolveLimits({ penetration: 0.01, stretch: 0.1 })]]);

/** An asset whose cost and faults are what its changes add up to. */
function asset(cost: number, penetration: number, stretch = 0): AssetFigures {
  const worst = { penetration, stretch };
  return { cost, showThrough: 0, worst, garments: [{ garmentId: GARMENT, worst }] };
}

const hold = (id: string, below = 0.01): BudgetChange => ({ kind: 'hold', garmentId: id as RecordId, below });
const drop = (id: string): BudgetChange => ({ kind: 'dropBodies', bodyIds: [id as RecordId] });

describe('what is told of changes', () => {
  const before = asset(3, 0.004);

  it('is what they save, what they harm by the limits, and which limits they break', () => {
    expect(judgeChange(before, asset(2, 0.004), LIMITS)).deep.equal({ saves: 1, harm: 0, breaks: [] });
    const worse = judgeChange(before, asset(2, 0.009), LIMITS);
    expect(worse.harm).closeTo(0.5, 1e-9);
    expect(worse.breaks).deep.equal([]);
    expect(judgeChange(before, asset(2, 0.011), LIMITS).breaks).deep.equal(['penetration']);
    // A limit that was broken before is broken by what makes it worse, not by what leaves it.
    const bad = asset(3, 0.02);
    expect(judgeChange(bad, asset(2, 0.0201), LIMITS).breaks).deep.equal([]);
    expect(judgeChange(bad, asset(2, 0.025), LIMITS).breaks).deep.equal(['penetration']);
    // What it does by itself when next to nothing is changed is hardly its harm.
    const touchy = withScatter(before, [asset(3, 0.008), asset(3, 0.004)]);
    expect(judgeChange(touchy, asset(2, 0.009), LIMITS)).deep.include({ breaks: [] });
    expect(judgeChange(touchy, asset(2, 0.009), LIMITS).harm).closeTo(0.05, 1e-9);
    expect(judgeChange(touchy, asset(2, 0.015), LIMITS)).deep.include({ breaks: ['penetration'] });
    // A limit of 2 % of it nobody sees.
    expect(judgeChange(before, asset(2, 0.0041), LIMITS).harm).equal(0);
  });

  it('stands in order of what is gained for each harm, with what breaks a limit last', () => {
    const { singles } = readAdvice(
      [
        { changes: [], figures: before },
        { changes: [drop('much, harmful')], figures: asset(1.5, 0.009) },
        { changes: [drop('little, harmless')], figures: asset(2.9, 0.004) },
        { changes: [drop('breaks')], figures: asset(0.5, 0.02) },
        { changes: [drop('saves nothing')], figures: asset(3, 0.004) },
        { changes: [drop('cannot be done')], figures: null },
      ],
      LIMITS,
      2,
    );
    const names = singles.map(({ changes }) =>
      changes[0]!.kind === 'dropBodies' ? changes[0]!.bodyIds[0] : '',
    );
    expect(names).deep.equal(['little, harmless', 'much, harmful', 'breaks']);
  });
});

describe('advice on a budget', () => {
  /** Milliseconds saved and penetration added by each change; together they save a tenth less, and harm as much as all of them. */
  type Effects = readonly (readonly [BudgetChange, saves: number, harms: number])[];
  const tried: (readonly BudgetChange[])[] = [];
  const run = (effects: Effects, budget: number) => {
    tried.length = 0;
    const tryOut = async (changes: readonly BudgetChange[]) => {
      tried.push(changes);
      const own = effects.filter(([change]) => changes.includes(change));
      const sum = (k: 1 | 2): number => own.reduce((all, effect) => all + effect[k], 0);
      const figures = asset(3 - sum(1) * (changes.length > 1 ? 0.9 : 1), 0.004 + sum(2));
      return { figures, proposals: effects.map(([change]) => change) };
    };
    return advise(tryOut, LIMITS, budget);
  };
  const [a, b, c, d] = [hold('a'), hold('b'), hold('c'), drop('d')];

  it('takes the least harmful that are enough, and no more', async () => {
    const { best } = await run(
      [
        [a, 0.5, 0],
        [b, 0.6, 0.001],
        [c, 0.7, 0.005],
        [d, 0.1, 0],
      ],
      2.1,
    );
    expect(best!.figures.cost).most(2.1);
    expect(best!.changes).deep.equal([a, d, b]);
    // Each by itself, and one combination.
    expect(tried.filter((changes) => changes.length > 1).length).equal(1);
  });

  it('takes more where savings together are less than their sum', async () => {
    const { best } = await run(
      [
        [a, 0.5, 0],
        [b, 0.5, 0.001],
        [c, 0.5, 0.002],
      ],
      2.05,
    );
    expect(best!.changes).deep.equal([a, b, c]);
    expect(best!.figures.cost).closeTo(3 - 0.9 * 1.5, 1e-9);
  });

  it('leaves out what breaks a limit only together with others', async () => {
    const { best } = await run(
      [
        [a, 0.5, 0.003],
        [b, 0.5, 0.0035],
        [c, 0.4, 0.001],
        [d, 0.4, 0.001],
      ],
      2,
    );
    expect(best!.breaks).deep.equal([]);
    expect(best!.figures.cost).most(2);
    expect(best!.changes).not.include(b);
  });

  it('takes another value of the same setting where the gentler one is not enough', async () => {
    const gentle = hold('a', 0.01);
    const strong = hold('a', 0.02);
    const { best } = await run(
      [
        [gentle, 0.3, 0],
        [strong, 1.2, 0.004],
        [d, 0.2, 0],
      ],
      1.75,
    );
    expect(best!.changes).deep.equal([strong, d]);
  });

  it('is the cheapest sound one where nothing is enough, and nothing where the budget holds', async () => {
    const far = await run(
      [
        [a, 0.5, 0],
        [b, 0.4, 0.001],
      ],
      0.1,
    );
    expect(far.best!.changes).deep.equal([a, b]);
    expect(far.best!.figures.cost).above(0.1);
    await run(
      [
        [a, 0.5, 0],
        [b, 0.4, 0.001],
      ],
      5,
    );
    expect(tried.filter((changes) => changes.length > 1)).deep.equal([]);
    expect((await run([], 1)).best).equal(null);
  });
});
