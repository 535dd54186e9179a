import { expect } from 'chai';
import {
  MACHINE_ID,
  REFERENCE_COSTS,
  REFERENCE_PROFILE,
  REFERENCE_TARGET,
  type TargetProfile,
} from '../../core/cost/index.ts';
import type { TaskEntry } from '../wire/trials.ts';
import { Targets } from './targets.ts';
import { TaskWatch } from './task-watch.ts';

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

const MACHINE: TargetProfile = { ...REFERENCE_TARGET, name: 'This machine', costs: MEASURED };
const HANDHELD: TargetProfile = {
  ...REFERENCE_TARGET,
  id: 'h',
  name: 'Handheld',
  framesPerSecond: 30,
  costs: { ...MEASURED, name: 'Handheld', source: 'timings', costs: { ...REFERENCE_COSTS, edge: 99 } },
};

describe('target profiles, in a page', () => {
  const realFetch = globalThis.fetch;
  /** What the server answers, by method: body and status. */
  let answers: Record<string, readonly [unknown, number]>;
  let asked: string[];

  beforeEach(() => {
    asked = [];
    answers = { GET: [{ targets: [MACHINE, HANDHELD] }, 200], POST: [TASK, 201], PATCH: [{ ok: true }, 200] };
    globalThis.fetch = async (path, init) => {
      asked.push(`${init?.method ?? 'GET'} ${path}`);
      const [body, status] = answers[init?.method ?? 'GET']!;
      return Response.json(body, { status });
    };
  });

  afterEach(() => {
    globalThis.fetch = realFetch;
  });

  const settle = () => new Promise((resolve) => setTimeout(resolve, 5));

  it('are the reference machine until the server says more', async () => {
    const targets = new Targets();
    expect(targets.store.state.target).equal(REFERENCE_TARGET);
    await targets.load();
    expect(targets.store.state.all).deep.equal([MACHINE, HANDHELD]);
    expect(targets.store.state.target).deep.equal(MACHINE);
    expect(asked).deep.equal(['GET /api/targets']);
  });

  it('are chosen for the whole project, and work is priced by the one that was', async () => {
    const targets = new Targets(null, { projectId: 'p', targetId: 'h' });
    await targets.load();
    expect(targets.store.state.pricing).deep.equal({ costs: HANDHELD.costs.costs, framesPerSecond: 30 });
    await targets.choose(MACHINE_ID);
    expect(asked.at(-1)).equal('PATCH /api/projects/p');
    expect(targets.store.state.pricing.framesPerSecond).equal(60);
    answers.PATCH = [{ error: { message: 'The database is gone.' } }, 503];
    await targets.choose('h');
    expect(targets.store.state.target.id).equal(MACHINE_ID);
    expect(targets.store.state.failure).contain('database is gone');
  });

  it('are added, set otherwise and removed; a project that used one goes by this machine', async () => {
    const targets = new Targets(null, { projectId: 'p', targetId: 'h' });
    await targets.load();
    answers.PATCH = [{ ...HANDHELD, framesPerSecond: 40 }, 200];
    await targets.edit('h', { framesPerSecond: 40 });
    expect(targets.store.state.pricing.framesPerSecond).equal(40);
    answers.POST = [{ ...HANDHELD, id: 'i', name: 'Other' }, 201];
    expect((await targets.add('{}'))!.name).equal('Other');
    expect(targets.store.state.all.map(({ id }) => id)).deep.equal([MACHINE_ID, 'h', 'i']);
    answers.DELETE = [{ projects: 1 }, 200];
    expect(await targets.remove('h')).equal(1);
    expect(targets.store.state.all.map(({ id }) => id)).deep.equal([MACHINE_ID, 'i']);
    expect(targets.store.state.target.id).equal(MACHINE_ID);
  });

  it('stay what they were when the server cannot say, or says what is no profile', async () => {
    const targets = new Targets();
    answers.GET = [{ error: { message: 'The database is gone.' } }, 503];
    await targets.load();
    expect(targets.store.state.target).equal(REFERENCE_TARGET);
    expect(targets.store.state.failure).contain('database is gone');
    answers.GET = [{ targets: [{ ...MACHINE, costs: { ...MEASURED, costs: { edge: 'much' } } }] }, 200];
    await targets.load();
    expect(targets.store.state.target).equal(REFERENCE_TARGET);
    expect(targets.store.state.failure).not.equal(null);
  });

  it('follow a calibration, whoever ordered it, and take over what it found', async () => {
    const watch = new TaskWatch();
    const targets = new Targets(watch);
    await targets.calibrate();
    expect(targets.store.state.progress).equal(0);
    watch.put({ ...TASK, state: 'running', done: 250 });
    expect(targets.store.state.progress).equal(0.25);
    expect(targets.store.state.target).equal(REFERENCE_TARGET);
    watch.put({ ...TASK, state: 'done', done: 1000 });
    await settle();
    expect(targets.store.state).deep.include({ progress: null, failure: null });
    expect(targets.store.state.target.costs.machine).equal('x, 2 cores');
  });

  it('say why a calibration failed, and keep what counted before', async () => {
    const watch = new TaskWatch();
    const targets = new Targets(watch);
    await targets.calibrate();
    watch.put({ ...TASK, state: 'failed', error: 'No memory is left.' });
    await settle();
    expect(targets.store.state).deep.include({ progress: null, failure: 'No memory is left.' });
    expect(targets.store.state.target).equal(REFERENCE_TARGET);
  });
});
