import { expect } from 'chai';
import {
  BODY_DEFAULTS,
  type BodyRecord,
  createDocument,
  findChannel,
  getScene,
  listRecords,
  type RecordId,
} from '../../core/document/index.ts';
import { createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import { compareValues } from '../../core/reach/index.ts';
import { BodyFiguresLoop } from '../workers/body-figures-loop.ts';
import { BodyFigures } from './body-figures.ts';
import { Editor } from './editor.ts';
import { Targets } from './targets.ts';
import { until } from './test-preparation.ts';
import { installLocalWorkers, LocalWorker } from './test-worker.ts';

const LIMB = 'limb' as RecordId;

/** The skirt of the wardrobe over a leg with one body, and what tells of it. */
function open(radius = 0.1): {
  editor: Editor;
  figures: BodyFigures;
  bodySetId: RecordId;
  limb: () => BodyRecord;
} {
  const editor = new Editor(createWardrobe(), createDocument());
  const garmentId = editor.addGarment(1);
  const garment = editor.document.records.get(garmentId);
  if (garment?.type !== 'garment') throw new Error('There is no garment.');
  const { bodySetId } = garment;
  for (const { id } of listRecords(editor.document, 'body')) editor.changeRecords('Clear', [[id, null]]);
  const limb: BodyRecord = {
    type: 'body',
    id: LIMB,
    bodySetId,
    name: 'limb',
    jointName: 'hip',
    // The leg hangs 0.7 m down, in a space twice as large as the world.
    shape: { kind: 'capsule', a: [0, -0.05, 0], b: [0, -0.6, 0], radiusA: radius, radiusB: radius },
    ...BODY_DEFAULTS,
  };
  editor.changeRecords('Add', [[LIMB, limb]]);
  const map = findChannel(editor.document, garmentId)!;
  const values = editor.document.arrays.get(map.id)!;
  editor.paint('Free', map.id, compareValues(values, new Float32Array(values.length).fill(0.2)));
  const figures = new BodyFigures(editor, new Targets());
  return { editor, figures, bodySetId, limb: () => editor.document.records.get(LIMB) as BodyRecord };
}

const isFitted = ({ store }: BodyFigures): boolean => store.state.fit !== null && !store.state.isFitting;

describe('figures of bodies on the page', function () {
  this.timeout(30_000);
  let restore: () => void;
  before(() => {
    restore = installLocalWorkers(() => new BodyFiguresLoop());
  });
  after(() => restore());

  it('come when somebody looks, follow a body, and are those of the last change alone', async () => {
    const { editor, figures, bodySetId, limb } = open();
    expect(figures.store.state).include({ fit: null, isFitting: false });
    figures.watch(bodySetId);
    expect(figures.store.state.isFitting).equal(true);
    await until(() => isFitted(figures));
    const { coverage } = figures.store.state.fit!.figures.bind;
    expect(coverage).above(0);
    for (const radius of [0.06, 0.04, 0.02]) {
      const { shape } = limb();
      if (shape.kind !== 'capsule') throw new Error('It is another kind.');
      editor.updateRecord('Thin', limb(), { shape: { ...shape, radiusA: radius, radiusB: radius } });
    }
    expect(figures.store.state.isFitting).equal(true);
    await until(() => isFitted(figures));
    const thin = figures.store.state.fit!.figures.bind;
    expect(thin.coverage).below(coverage);
    editor.undo();
    editor.undo();
    editor.undo();
    await until(() => isFitted(figures) && figures.store.state.fit!.figures.bind.coverage === coverage);
    figures.watch(null);
    editor.updateRecord('Thin', limb(), { margin: 0.01 });
    // Nobody looks: nothing is asked.
    expect(figures.store.state.isFitting).equal(false);
    figures.dispose();
  });

  it('are of the skin anew when a map, the body shape or the set of a garment changes', async () => {
    const { editor, figures, bodySetId } = open();
    figures.watch(bodySetId);
    await until(() => isFitted(figures));
    const { area } = figures.store.state.fit!.figures.bind;
    const [map] = listRecords(editor.document, 'channel');
    const values = editor.document.arrays.get(map!.id)!;
    editor.paint('Hold', map!.id, compareValues(values, new Float32Array(values.length)));
    await until(() => isFitted(figures));
    // Held cloth reaches less of the skin.
    expect(figures.store.state.fit!.figures.bind.area).below(area);
    editor.updateScene('Wind', { windSpeed: getScene(editor.document).windSpeed + 1 });
    expect(figures.store.state.isFitting).equal(true);
    await until(() => isFitted(figures));
    figures.dispose();
  });

  it('of what bodies do are kept, marked when something changes, and made by clips or by bodies', async () => {
    const { editor, figures, bodySetId, limb } = open();
    const made = LocalWorker.made;
    await figures.measureUse(bodySetId, [0]);
    expect(LocalWorker.made).above(made);
    const { use } = figures.store.state;
    expect(use).include({ bodySetId, isOld: false });
    expect(use!.clips.map(({ clip, uses }) => [clip, uses.map(({ id }) => id)])).deep.equal([[0, [LIMB]]]);
    expect(figures.store.state).include({ task: null, share: 0, failure: null });
    editor.updateRecord('Margin', limb(), { margin: 0.004 });
    expect(figures.store.state.use!.isOld).equal(true);
  });

  it('of two sets are compared, each with its own bodies', async () => {
    const { editor, figures, bodySetId } = open();
    const empty = 'empty' as RecordId;
    editor.changeRecords('Add', [[empty, { type: 'bodySet', id: empty, name: 'Empty', follows: 'skin' }]]);
    await figures.compare(bodySetId, empty, 0);
    const { compared } = figures.store.state;
    expect(compared).include({ usedSetId: bodySetId, triedSetId: empty, isOld: false });
    expect(compared!.used.clip).equal(0);
    expect(compared!.tried.clip).equal(0);
  });

  it('that are cancelled leave what was there, and what fails is told', async () => {
    const { figures, bodySetId } = open();
    const running = figures.measureUse(bodySetId, [0]);
    expect(figures.store.state.task).contain('body by body');
    figures.cancel();
    await running;
    expect(figures.store.state).include({ task: null, use: null, failure: null });
    await figures.measureUse(bodySetId, [17]);
    expect(figures.store.state.use).equal(null);
    expect(figures.store.state.failure).not.equal(null);
  });
});
