import { expect } from 'chai';
import { getScene, type RecordId, SCENE_ID } from '../../../../../core/document/index.ts';
import { collectRows, getMeasure } from '../../../../../core/trials/index.ts';
import { createScene } from '../../../../../core/trials/test-scene.ts';
import { countChanges, isTold, judgeTrial, listShownMeasures } from './judge-trial.ts';

describe('the grid of a trial', () => {
  const { document, frames } = createScene({});
  const names = new Map([['id-1' as RecordId, 'Sheet']]);
  const rows = collectRows('push', frames, names);
  const cellOf = (lines: ReturnType<typeof judgeTrial>, key: string) =>
    lines[0]!.cells.find((cell) => cell.key === key)!;

  it('has the worst of every frame, where it was, and what is over a limit', () => {
    const [line] = judgeTrial([rows], document, null);
    const cell = cellOf([line!], 'penetration');
    const worst = frames.reduce((most, frame) => (frame.penetration > most.penetration ? frame : most));
    expect(cell.worst).equal(Math.fround(worst.penetration));
    expect(cell.time).equal(Math.fround(worst.time));
    expect(cell.position).deep.equal(worst.garments[0]!.places.penetration!.position);
    expect(cell).deep.include({ isOver: true, change: null });
    expect(line!.passes).equal(false);
    expect(line!.cells.map(({ key }) => key)).not.include('layers');
    expect(listShownMeasures(2).map(({ key }) => key)).include('layers');
  });

  it('is judged by the limits of the document', () => {
    const wide = { penetration: 1, stretch: null, jitter: null, showThrough: null };
    const records = new Map(document.records).set(SCENE_ID, { ...getScene(document), trialLimits: wide });
    const [line] = judgeTrial([rows], { ...document, records }, null);
    expect(line!.passes).equal(true);
    expect(cellOf([line!], 'penetration').isOver).equal(false);
  });

  it('tells what is another than in an earlier trial, of the case of the same name', () => {
    const held = createScene({ hasBody: true });
    const earlier = collectRows('push', held.frames, names);
    const lines = judgeTrial([rows], document, [{ ...earlier, name: 'other' }, earlier]);
    const cell = cellOf(lines, 'penetration');
    const most = (of: typeof frames) => Math.max(...of.map(({ penetration }) => Math.fround(penetration)));
    expect(cell.change).closeTo(most(frames) - most(held.frames), 1e-9);
    const changed = countChanges(lines);
    expect(changed.worse).above(0);
    expect(countChanges(judgeTrial([rows], document, [rows]))).deep.equal({ better: 0, worse: 0 });
    expect(countChanges(judgeTrial([earlier], held.document, [rows]))).deep.equal({
      better: changed.worse,
      worse: changed.better,
    });
    expect(cellOf(judgeTrial([rows], document, [{ ...rows, name: 'other' }]), 'penetration').change).equal(
      null,
    );
  });

  it('tells the mean of the cost, and the worst of all else', () => {
    const times = { ...rows, whole: { ...rows.whole, cost: Float32Array.of(1, 1, 10) } };
    const [line] = judgeTrial([times], document, null);
    expect(cellOf([line!], 'cost').told).equal(4);
    expect(cellOf([line!], 'cost').worst).equal(10);
    const stretch = cellOf([line!], 'stretch');
    expect(stretch.told).equal(stretch.worst);
  });

  it('does not tell of changes that do not show', () => {
    const measure = getMeasure('penetration');
    expect(isTold(0.00004, measure)).equal(false);
    expect(isTold(-0.00006, measure)).equal(true);
    expect(isTold(null, measure)).equal(false);
  });
});
