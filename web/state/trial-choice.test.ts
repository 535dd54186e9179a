import { expect } from 'chai';
import { createScene } from '../../core/trials/test-scene.ts';
import { joinParts, splitParts } from '../wire/trial-bytes.ts';
import type { TrialEntry } from '../wire/trials.ts';
import { tellLeft } from './task-watch.ts';
import { chooseOld } from './thin-out.ts';
import { chooseAll, choosePlain, countPlan, toPlan } from './trial-choice.ts';

const { character } = (() => {
  const { setup } = createScene({});
  return { character: setup.base };
})();

describe('what a trial is to play', () => {
  it('is everything at first, one thing different at a time', () => {
    const { runs, frames } = countPlan(character, toPlan(character, chooseAll(character)));
    // As set, still, strong, at 60 a second; 30; 120; uneven.
    expect(runs).equal(6);
    expect(frames).within(60 * 3 + 30 + 120 + 50, 60 * 3 + 30 + 120 + 70);
    expect(countPlan(character, toPlan(character, choosePlain(character)))).deep.equal({
      runs: 1,
      frames: 60,
    });
  });

  it('leaves out what the character does not have any more', () => {
    const plan = toPlan(character, {
      clips: [0, 4],
      blends: [{ kind: 'blend', from: 0, to: 4, at: 0, seconds: 0.2 }],
      shapes: ['broad'],
      winds: ['still'],
      rates: [30],
    });
    expect(plan.motions).deep.equal([{ kind: 'clip', clip: 0 }]);
    expect(plan.shapes).deep.equal([]);
  });
});

describe('thinning out trials', () => {
  const entry = (index: number, isAutomatic: boolean): TrialEntry => ({
    id: String(index),
    title: '',
    isAutomatic,
    revision: 1,
    fits: false,
    cases: 1,
    broken: 0,
    seconds: 1,
    // Four a day, at noon and after.
    createdAt: new Date(2026, 0, 100 - Math.floor(index / 4), 16 - (index % 4)).toISOString(),
  });

  it('keeps the newest, the last of each day, and what was ordered', () => {
    const trials = Array.from({ length: 60 }, (_, index) => entry(index, index % 5 !== 0));
    const old = chooseOld(trials);
    expect(old.length).above(15);
    for (const { id, isAutomatic } of old) {
      expect(Number(id)).least(20);
      expect(isAutomatic).equal(true);
      expect(Number(id) % 4).not.equal(0);
    }
    const kept = trials.filter((trial) => !old.includes(trial));
    expect(
      kept
        .filter(({ id }) => Number(id) >= 20)
        .every(({ id }) => Number(id) % 4 === 0 || Number(id) % 5 === 0),
    ).equal(true);
    // What is left stays.
    expect(chooseOld(kept)).deep.equal([]);
  });
});

describe('the bytes of a trial on their way', () => {
  it('come apart as they went together, and are refused when cut off', () => {
    const [measured, machine] = [Uint8Array.of(1, 2, 3), Uint8Array.of(4)];
    expect(splitParts(joinParts(measured, machine))).deep.equal({ measured, machine });
    expect(() => splitParts(joinParts(measured, machine).subarray(0, 6))).throw('cut off');
    expect(() => splitParts(new Uint8Array(2))).throw('cut off');
  });
});

describe('the time that is left of a task', () => {
  const task = { startedAt: new Date(0).toISOString(), done: 25, total: 100, state: 'running' } as never;
  it('is told of how it went', () => {
    expect(tellLeft(task, 10_000)).equal(30);
    expect(tellLeft({ ...(task as object), done: 1 } as never, 10_000)).equal(null);
    expect(tellLeft({ ...(task as object), state: 'queued' } as never, 10_000)).equal(null);
  });
});
