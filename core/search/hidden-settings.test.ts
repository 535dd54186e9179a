import { expect } from 'chai';
import { type GarmentRecord, listGarments, type RecordId } from '../document/index.ts';
import { setUpRun } from '../run/index.ts';
import { collectRows, resolveAllLimits, runTrial } from '../trials/index.ts';
import { createScene } from '../trials/test-scene.ts';
import type { TriedPoint } from './evolution.ts';
import { proposePoints } from './propose-points.ts';
import { type SearchScore, scoreRows } from './score-rows.ts';
import {
  applyChanges,
  changeVariables,
  readVariable,
  type SearchVariable,
  toShare,
  toValue,
} from './search-variable.ts';

/** Six numbers of a sheet that a ball is pushed into, within wide bounds. */
const VARIABLES: readonly SearchVariable[] = [
  { key: 'thickness', low: 0, high: 0.02 },
  { key: 'damping', low: 0, high: 10 },
  { key: 'stretchWarp', low: 50, high: 20_000 },
  { key: 'bendStiffness', low: 1e-6, high: 1e-3 },
  { key: 'reach', low: 0.2, high: 2 },
  { key: 'margin', low: -0.03, high: 0.03 },
];

describe('a search for settings', function () {
  this.timeout(180_000);
  const { document, setup } = createScene({ hasBody: true });
  const garment = listGarments(document)[0]!;
  // A margin that can be made smaller, too.
  const ball = document.records.get('ball' as RecordId)!;
  if (ball.type === 'body') document.records.set(ball.id, { ...ball, margin: 0.03 });
  const names = new Map([[garment.id, 'Sheet']]);

  const tryValues = (values: readonly number[]): SearchScore => {
    const changed = applyChanges(document, changeVariables(document, garment, VARIABLES, values));
    const run = runTrial(setUpRun(changed, setup.base), { motion: { kind: 'clip', clip: 0 }, rate: 30 });
    return scoreRows([collectRows('push', [...run], names)], garment.id, resolveAllLimits(changed), null);
  };
  const toValues = (point: readonly number[]): number[] =>
    point.map((share, v) => toValue(VARIABLES[v]!, share));

  it('comes within a tenth of the best settings that are known, which it was not told, in 200 tries', () => {
    // The best that two searches of 800 tries each, of other seeds, agree on.
    const known = { score: 0.2001 };
    // It begins at settings that are bad.
    const start = [0, 0, 60, 1e-3, 0.3, -0.03].map((value, v) => toShare(VARIABLES[v]!, value));
    const tried: TriedPoint[] = [];
    for (;;) {
      const points = proposePoints({ start, runs: 200, seed: 7 }, tried);
      if (points.length === 0) break;
      for (const point of points) tried.push({ point, score: tryValues(toValues(point)).score });
    }
    expect(tried.length).equal(200);
    expect(tried[0]!.score).above(10 * known.score);
    expect(Math.min(...tried.map(({ score }) => score))).below(1.1 * known.score);
  });

  it('moves what it is told to, and nothing else', () => {
    const values = [0.01, 2, 500, 1e-4, 0.5, -0.01];
    const { records, arrays } = changeVariables(document, garment, VARIABLES, values);
    expect([...records.keys()]).have.members([garment.fabricId, 'ball']);
    const changed = applyChanges(document, { records, arrays });
    const after = changed.records.get(garment.id) as GarmentRecord;
    expect(VARIABLES.slice(0, 4).map(({ key }) => readVariable(changed, after, key))).deep.equal(
      values.slice(0, 4),
    );
    const [[id, halved]] = [...arrays] as [[RecordId, Float32Array]];
    expect([...halved]).deep.equal([...document.arrays.get(id)!].map((value) => 0.5 * value));
    const moved = changed.records.get('ball' as RecordId)!;
    expect(moved.type === 'body' && moved.margin).closeTo(0.02, 1e-12);
    expect(readVariable(document, garment, 'thickness')).not.equal(0.01);
  });

  it('goes along each number in steps that fit it, there and back', () => {
    const warp: SearchVariable = { key: 'stretchWarp', low: 10, high: 1000 };
    expect(toValue(warp, 0.5)).closeTo(100, 1e-9);
    expect(toShare(warp, 100)).closeTo(0.5, 1e-12);
    const thickness: SearchVariable = { key: 'thickness', low: 0, high: 0.02 };
    expect(toValue(thickness, 0.25)).closeTo(0.005, 1e-12);
    // From nothing upward there is no logarithm; the first step is a millionth of the last.
    const bend: SearchVariable = { key: 'bendStiffness', low: 0, high: 0.01 };
    expect(toValue(bend, 0)).equal(0);
    expect(toValue(bend, 1)).closeTo(0.01, 1e-12);
    expect(toShare(bend, toValue(bend, 0.4))).closeTo(0.4, 1e-9);
    const substeps: SearchVariable = { key: 'substepsPerSecond', low: 60, high: 720 };
    expect(toValue(substeps, 0.37) % 60).equal(0);
    expect(toShare(substeps, 1e6)).equal(1);
  });
});
