import { expect } from 'chai';
import { REFERENCE_TARGET, toPricing } from '../../core/cost/index.ts';
import { listGarments, PLAIN_LEVEL } from '../../core/document/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import type { LevelsFound, MeasuredBand } from '../wire/levels.ts';
import type { TaskEntry } from '../wire/trials.ts';
import type { PreviewRequest } from '../workers/preview-protocol.ts';
import { Editor } from './editor.ts';
import { LevelsWork } from './levels-work.ts';
import { Ordering } from './ordering.ts';
import { Store } from './store.ts';
import { TaskWatch } from './task-watch.ts';

const TASK = {
  id: 'l',
  characterId: 'c',
  kind: 'levels',
  revision: 7,
  state: 'running',
  partsDone: 1,
} as TaskEntry;
const LEVELS = [
  { ...PLAIN_LEVEL, pixels: 400, edgeLength: 0.08 },
  { ...PLAIN_LEVEL, pixels: 100, blend: 0 },
];

const figuresOf = (band: number): MeasuredBand => ({
  band,
  cost: { mean: 1 / (band + 1), p95: 1, worst: 1 },
  worst: {},
  garments: [],
  switchTo: null,
  faults: [],
});

describe('levels of detail in a page', () => {
  const realFetch = globalThis.fetch;

  afterEach(() => {
    globalThis.fetch = realFetch;
  });

  const settle = () => new Promise((resolve) => setTimeout(resolve, 5));

  /** A page with a sheet that has levels, whose task has measured some bands. */
  function open(openedRevision = 7) {
    const { document, setup } = createScene({});
    const [garment] = listGarments(document);
    document.records.set(garment!.id, { ...garment!, levels: LEVELS });
    const editor = new Editor(setup.base, document);
    const watch = new TaskWatch();
    const saver = {} as ConstructorParameters<typeof Ordering>[0];
    const ordering = new Ordering(saver, { id: 'c', source: null as never }, watch);
    const sent: PreviewRequest[] = [];
    const target = new Store({ target: REFERENCE_TARGET });
    const beside = {
      preview: { send: (request: PreviewRequest) => sent.push(request) },
      targets: { store: target },
    };
    const work = new LevelsWork(editor, ordering, beside as never, openedRevision);
    const found: LevelsFound = {
      request: {
        cases: [],
        pricing: toPricing(REFERENCE_TARGET),
        bands: work.listBands().map(({ from, levels }) => ({ from, levels: [...levels] })),
        height: 1,
        switchSeconds: 0.3,
      },
      results: [figuresOf(0), figuresOf(1)],
    };
    globalThis.fetch = async () => Response.json(found);
    const findCosts = () => work.listBands().map((band) => work.findFigures(band)?.cost.mean ?? null);
    return { editor, watch, work, sent, target, garmentId: garment!.id, findCosts };
  }

  const getGarment = ({ editor, garmentId }: ReturnType<typeof open>) =>
    listGarments(editor.document).find(({ id }) => id === garmentId)!;

  it('have the figures of those sizes that are measured and are what they were then', async () => {
    const page = open();
    page.watch.put(TASK);
    await settle();
    expect(page.findCosts()).deep.equal([1, 0.5, null]);
    // Another bound moves a size, and leaves what is simulated in it as it is; another mesh does not.
    const [first, second] = getGarment(page).levels;
    page.work.setLevels(getGarment(page), 'edges', [{ ...first!, edgeLength: 0.1 }, second!]);
    expect(page.findCosts()).deep.equal([1, null, null]);
    page.editor.undo();
    expect(page.findCosts()).deep.equal([1, 0.5, null]);
    page.target.set({ target: { ...REFERENCE_TARGET, framesPerSecond: 30 } });
    expect(page.findCosts()).deep.equal([null, null, null]);
  });

  it('lose them when something that moves is edited, and keep them when only a limit is', async () => {
    const page = open();
    page.watch.put(TASK);
    await settle();
    page.editor.updateScene('limits', { trialLimits: { jitter: 0.1 } });
    expect(page.findCosts()[0]).equal(1);
    page.editor.updateScene('wind', { windSpeed: 3 });
    expect(page.findCosts()).deep.equal([null, null, null]);
    // What was ordered before the page was opened, of an earlier state, tells nothing either.
    const later = open(8);
    later.watch.put(TASK);
    await settle();
    expect(later.findCosts()).deep.equal([null, null, null]);
  });

  it('are proposed for several garments as one step, and stay in their order whatever is typed', () => {
    const page = open();
    page.work.propose(listGarments(page.editor.document));
    const proposed = getGarment(page).levels;
    expect(proposed).not.deep.equal(LEVELS);
    page.editor.undo();
    expect(getGarment(page).levels).deep.equal(LEVELS);
    const [first, second] = LEVELS;
    page.work.setLevels(getGarment(page), 'size', [{ ...first!, pixels: 50 }, second!]);
    expect(getGarment(page).levels.map(({ pixels }) => pixels)).deep.equal([100, 50]);
  });

  it('are held by their size, once, until they are let go', () => {
    const { work, sent } = open();
    work.hold(400);
    work.hold(400);
    work.hold(0);
    work.hold(null);
    expect(sent).deep.equal([400, 0, null].map((pixels) => ({ kind: 'hold', pixels })));
  });

  it('follow the view when they are told to, without going to and fro at a bound', () => {
    const { work, sent } = open();
    const look = (pixels: number): void => work.followView(pixels / 1080);
    look(500);
    expect(sent).deep.equal([]);
    work.setByView(true);
    for (const pixels of [500, 396, 404, 396, 370, 404, 90]) look(pixels);
    expect(sent.map((request) => request.kind === 'hold' && request.pixels)).deep.equal([400, 100, 0]);
    work.setByView(false);
    look(500);
    expect(sent.at(-1)).deep.equal({ kind: 'hold', pixels: null });
    // A size that is held takes the place of the view at once: let go between, nothing would go over.
    work.setByView(true);
    look(500);
    work.hold(100);
    look(500);
    expect(work.store.state).include({ isByView: false, heldPixels: 100 });
    expect(sent.slice(-2).map((request) => request.kind === 'hold' && request.pixels)).deep.equal([400, 100]);
  });
});
