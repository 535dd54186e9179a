import { expect } from 'chai';
import { REFERENCE_PROFILE } from '../../core/cost/index.ts';
import type { TaskEntry } from '../wire/trials.ts';
import { TaskWatch } from './task-watch.ts';
import { UnitCostsStore } from './unit-costs.ts';

const MEASURED = {
  ...REFERENCE_PROFILE,
  name: 'This machine',
  source: 'machine',
  machine: 'x, 2 cores',
} as const;
const TASK: TaskEntry = {
  id: 'a',
  characterId: null,
  characterName: null,
  kind: 'calibration',
  title: 'what work costs on this machine',
  isAutomatic: false,
  revision: 0,
  state: 'queued',
  error: null,
  parts: 1,
  partsDone: 0,
  done: 0,
  total: 1000,
  createdAt: '2026-01-01T00:00:00.000Z',
  startedAt: null,
  finishedAt: null,
};

describe('what work costs, in a page', () => {
  const realFetch = globalThis.fetch;
  /** What the server answers, by method: body and status. */
  let answers: Record<string, readonly [unknown, number]>;

  beforeEach(() => {
    answers = { GET: [{ profile: MEASURED }, 200], POST: [TASK, 201] };
    globalThis.fetch = async (path, init) => {
      expect(path).equal('/api/cost-profile');
      const [body, status] = answers[init?.method ?? 'GET']!;
      return Response.json(body, { status });
    };
  });

  afterEach(() => {
    globalThis.fetch = realFetch;
  });

  const settle = () => new Promise((resolve) => setTimeout(resolve, 5));

  it('is that of the reference machine until the server says more', async () => {
    const costs = new UnitCostsStore();
    expect(costs.store.state.profile).equal(REFERENCE_PROFILE);
    await costs.load();
    expect(costs.store.state.profile).deep.equal(MEASURED);
  });

  it('stays what it was when the server cannot say, or says what is no profile', async () => {
    const costs = new UnitCostsStore();
    answers.GET = [{ error: { message: 'The database is gone.' } }, 503];
    await costs.load();
    expect(costs.store.state).deep.include({ profile: REFERENCE_PROFILE });
    expect(costs.store.state.failure).contain('database is gone');
    answers.GET = [{ profile: { ...MEASURED, costs: { edge: 'much' } } }, 200];
    await costs.load();
    expect(costs.store.state.profile).equal(REFERENCE_PROFILE);
    expect(costs.store.state.failure).not.equal(null);
  });

  it('follows a calibration, whoever ordered it, and takes over what it found', async () => {
    const watch = new TaskWatch();
    const costs = new UnitCostsStore(watch);
    await costs.calibrate();
    expect(costs.store.state.progress).equal(0);
    watch.put({ ...TASK, state: 'running', done: 250 });
    expect(costs.store.state.progress).equal(0.25);
    expect(costs.store.state.profile).equal(REFERENCE_PROFILE);
    watch.put({ ...TASK, state: 'done', done: 1000 });
    await settle();
    expect(costs.store.state).deep.include({ progress: null, failure: null });
    expect(costs.store.state.profile.machine).equal('x, 2 cores');
  });

  it('says why a calibration failed, and keeps what counted before', async () => {
    const watch = new TaskWatch();
    const costs = new UnitCostsStore(watch);
    await costs.calibrate();
    watch.put({ ...TASK, state: 'failed', error: 'No memory is left.' });
    await settle();
    expect(costs.store.state).deep.include({ progress: null, failure: 'No memory is left.' });
    expect(costs.store.state.profile).equal(REFERENCE_PROFILE);
  });
});
