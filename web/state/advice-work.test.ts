import { expect } from 'chai';
import type { AssetFigures, BudgetChange, TriedChanges } from '../../core/advice/index.ts';
import { listGarments, listRecords, type RecordId } from '../../core/document/index.ts';
import { resolveLimits } from '../../core/trials/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import type { TaskEntry } from '../wire/trials.ts';
import { AdviceWork } from './advice-work.ts';
import { Editor } from './editor.ts';
import { Ordering } from './ordering.ts';
import { TaskWatch } from './task-watch.ts';

const TASK: TaskEntry = {
  id: 'a',
  characterId: 'c',
  characterName: 'Sheet',
  kind: 'advice',
  title: '1 garment',
  isAutomatic: false,
  revision: 7,
  state: 'running',
  error: null,
  parts: 3,
  partsDone: 0,
  done: 0,
  total: 3,
  createdAt: '2026-01-01T00:00:00.000Z',
  startedAt: null,
  finishedAt: null,
};

describe('what to change first, in a page', () => {
  const realFetch = globalThis.fetch;
  let results: TriedChanges[];

  afterEach(() => {
    globalThis.fetch = realFetch;
  });

  const settle = () => new Promise((resolve) => setTimeout(resolve, 5));

  function open(openedRevision = 7, fail = false) {
    const { document, setup } = createScene({ hasBody: true });
    const editor = new Editor(setup.base, document);
    const [garment] = listGarments(document);
    const [body] = listRecords(document, 'body');
    const watch = new TaskWatch();
    const saver = {} as ConstructorParameters<typeof Ordering>[0];
    const ordering = new Ordering(saver, { id: 'c', source: null as never }, watch);
    const make = async (): Promise<void> => {
      if (fail) throw new Error('it would be too large');
      editor.updateScene('Build a sim mesh', { windSpeed: 3 });
    };
    const addStep = async (label: string): Promise<void> => editor.updateScene(label, { windSpeed: 4 });
    const advising = new AdviceWork(editor, ordering, { addStep, simMeshes: { make } }, openedRevision);
    globalThis.fetch = async () => {
      const limits = [[garment!.id, resolveLimits({})]];
      const cases = [{ motion: { kind: 'clip', clip: 0 } }];
      return Response.json({ request: { cases, budget: 1, limits }, results });
    };
    const fabric = { kind: 'substeps', fabricId: garment!.fabricId, substepsPerSecond: 120 } as const;
    const drop = { kind: 'dropBodies', bodyIds: [body!.id] } as const;
    const mesh = { kind: 'simMesh', garmentId: garment!.id, edgeLength: 0.1 } as const;
    const rows = { kind: 'joinRows', garmentId: garment!.id } as const;
    return { editor, watch, advising, changes: [fabric, drop, rows, mesh] as BudgetChange[], body: body! };
  }

  const figures = (cost: number, garmentId: RecordId): AssetFigures => ({
    cost,
    showThrough: 0,
    worst: {},
    garments: [{ garmentId, worst: {} }],
  });

  it('applies several changes as one step, sim meshes too, and takes all of them back at once', async () => {
    const { editor, advising, changes, body } = open();
    const before = new Map(editor.document.records);
    await advising.apply('Get under budget', changes);
    expect(editor.document.records.has(body.id)).equal(false);
    expect(listRecords(editor.document, 'fabric')[0]!.settings.substepsPerSecond).equal(120);
    expect(editor.document.records.size).not.equal(before.size);
    editor.undo();
    for (const [id, record] of before) expect(editor.document.records.get(id), id).equal(record);
    expect(editor.newestStep).equal(null);
  });

  it('changes nothing when one of them cannot be done', async () => {
    const { editor, advising, changes } = open(7, true);
    const before = new Map(editor.document.records);
    const error = await advising.apply('Get under budget', changes).catch((reason: Error) => reason.message);
    expect(error).equal('it would be too large');
    expect([...editor.document.records].sort()).deep.equal([...before].sort());
    expect(editor.newestStep).equal(null);
  });

  it('is read as it comes, and is of before after an edit that moves something, or of an earlier state', async () => {
    const { editor, watch, advising, changes } = open();
    const { id } = listGarments(editor.document)[0]!;
    results = [{ changes: [], figures: figures(3, id) }];
    watch.put({ ...TASK, partsDone: 1 });
    await settle();
    expect(advising.store.state.advice!.before!.cost).equal(3);
    expect(advising.store.state).deep.include({ clips: [0], budget: 1, isOld: false });
    results = [...results, { changes: [changes[0]!], figures: figures(2, id) }];
    watch.put({ ...TASK, state: 'done', partsDone: 3 });
    await settle();
    expect(advising.store.state.advice!.singles.map(({ saves }) => saves)).deep.equal([1]);
    expect(advising.tell(changes.slice(0, 1))[0]).contain('2 substeps a frame');
    editor.updateScene('Set the budget', { budgetMilliseconds: 4 });
    expect(advising.store.state.isOld).equal(false);
    editor.updateScene('Set the wind', { windSpeed: 5 });
    expect(advising.store.state.isOld).equal(true);
    const later = open(8);
    later.watch.put({ ...TASK, state: 'done', partsDone: 3 });
    await settle();
    expect(later.advising.store.state.isOld).equal(true);
  });
});
