import { expect } from 'chai';
import type { RecordId } from '../../core/document/index.ts';
import type { SuggestionStep } from '../../core/suggest/index.ts';
import type { TaskEntry } from '../wire/trials.ts';
import { BodySuggesting } from './body-suggesting.ts';
import type { Editor } from './editor.ts';
import { Ordering } from './ordering.ts';
import { TaskWatch } from './task-watch.ts';

const SET = 'set' as RecordId;
const TASK: TaskEntry = {
  id: 'a',
  characterId: 'c',
  characterName: 'Pilot',
  kind: 'bodies',
  title: 'bodies',
  isAutomatic: false,
  revision: 0,
  state: 'running',
  error: null,
  parts: 8,
  partsDone: 0,
  done: 0,
  total: 8,
  createdAt: '2026-01-01T00:00:00.000Z',
  startedAt: null,
  finishedAt: null,
};
const BALL = {
  shape: { kind: 'sphere', radiusA: 0.1 },
  joint: 0,
  position: [0, 0, 0],
  rotation: [0, 0, 0, 1],
};
const FOUND = { clip: 0, showThrough: 0, mostShowThrough: 0, penetration: 0, deepest: null, cost: 1 };

/** What is known once a set of so many bodies was simulated. */
function listSteps(bodies: number): SuggestionStep[] {
  return Array.from({ length: bodies + 1 }, (_, count): SuggestionStep[] => [
    { kind: 'chosen', bodies: Array.from({ length: count }, () => BALL) as never },
    { kind: 'measured', demand: FOUND },
  ]).flat();
}

describe('sets that the server finds, in a page', () => {
  const realFetch = globalThis.fetch;
  /** Answers what was asked for its results, in the order of the questions. */
  let asked: ((answer: Response) => void)[];

  beforeEach(() => {
    asked = [];
    globalThis.fetch = () => new Promise<Response>((resolve) => asked.push(resolve));
  });

  afterEach(() => {
    globalThis.fetch = realFetch;
  });

  const settle = () => new Promise((resolve) => setTimeout(resolve, 5));
  const goal = { bodies: 9, penetration: 0, showThrough: 0 };
  const request = {
    bodySetId: SET,
    clips: [0],
    goal,
    kinds: ['sphere'],
    mirrors: false,
    margin: 0,
    keptIds: [],
  };

  function begin() {
    const watch = new TaskWatch();
    const editor = { onDiff: () => {}, document: { records: new Map([[SET, {}]]) } } as unknown as Editor;
    const saver = {} as ConstructorParameters<typeof Ordering>[0];
    const ordering = new Ordering(saver, { id: 'c', source: null as never }, watch);
    const suggesting = new BodySuggesting(editor, { replace: async () => {} }, ordering);
    const answer = async (question: number, bodies: number): Promise<void> => {
      asked[question]!(Response.json({ request, results: listSteps(bodies) }));
      await settle();
    };
    return { watch, suggesting, answer };
  }

  const most = ({ store }: BodySuggesting) => store.state.sets.at(-1)?.bodies.length;

  it('are under way until the last of them is there, though the task has ended', async () => {
    const { watch, suggesting, answer } = begin();
    watch.put({ ...TASK, partsDone: 1 });
    await answer(0, 0);
    watch.put({ ...TASK, state: 'done', partsDone: 8, done: 8 });
    expect(suggesting.store.state.task).not.equal(null);
    expect(most(suggesting)).equal(0);
    await answer(1, 3);
    expect(suggesting.store.state).deep.include({ task: null, failure: null });
    expect(most(suggesting)).equal(3);
  });

  it('are not those of an answer that comes late', async () => {
    const { watch, suggesting, answer } = begin();
    watch.put({ ...TASK, partsDone: 1 });
    watch.put({ ...TASK, state: 'done', partsDone: 8, done: 8 });
    await answer(1, 3);
    await answer(0, 0);
    expect(suggesting.store.state.task).equal(null);
    expect(most(suggesting)).equal(3);
  });

  it('end with the reason when the last cannot be read', async () => {
    const { watch, suggesting } = begin();
    watch.put(TASK);
    watch.put({ ...TASK, state: 'done', partsDone: 8, done: 8 });
    asked.at(-1)!(Response.json({ error: { message: 'The database is gone.' } }, { status: 503 }));
    await settle();
    expect(suggesting.store.state.task).equal(null);
    expect(suggesting.store.state.failure).contain('database is gone');
  });
});
