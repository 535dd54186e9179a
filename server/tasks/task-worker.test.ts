import type { MikroORM } from '@mikro-orm/postgresql';
import { expect } from 'chai';
import { listGarments, SCENE_DEFAULTS } from '../../core/document/index.ts';
import { setUpRun } from '../../core/run/index.ts';
import { applyChanges, changeVariables, scoreRows, toValue } from '../../core/search/index.ts';
import {
  collectRows,
  createCaseDocument,
  createPlan,
  listCases,
  nameCase,
  packTrial,
  resolveAllLimits,
  runTrial,
  type TrialPlan,
} from '../../core/trials/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import { readCharacter } from '../../formats/index.ts';
import { type SearchRequest, type SearchResult, Task, Trial } from '../entities/entities.ts';
import { AuthoredService } from '../services/authored-service.ts';
import { PurgeService } from '../services/purge-service.ts';
import { startWorkerProcess, type WorkerProcess } from './start-worker-process.ts';
import { TaskEvents } from './task-events.ts';
import type { TaskSummary } from './task-service.ts';
import { isEnded, refusalOf, TaskStage } from './test-tasks.ts';

describe('tasks', function () {
  this.timeout(120_000);
  const { document } = createScene({ hasBody: true });
  let stage: TaskStage;
  let orm: MikroORM;
  let url: string;
  let characterId: string;

  const tasks = () => stage.tasks;
  const orders = () => stage.orders;
  const startWorker = (threads = 1) => stage.startWorker(threads);
  const wait = (id: string, until: (task: TaskSummary) => boolean) => stage.wait(id, until);
  const short: TrialPlan = { motions: [{ kind: 'clip', clip: 0 }], shapes: [], winds: [], rates: [] };
  /** Long enough to be met in the middle of it. */
  const long: TrialPlan = {
    motions: Array.from({ length: 12 }, () => ({ kind: 'clip', clip: 0 }) as const),
    shapes: [],
    winds: [],
    rates: [120],
  };
  const order = (plan: TrialPlan, isAutomatic = false): Promise<TaskSummary> =>
    orders().orderTrial(characterId, { plan, isAutomatic });
  const readTrial = (id: string) =>
    orm.em.fork().findOneOrFail(Trial, { id }, { populate: ['measured', 'machine', 'hashes', 'cases'] });

  before(async () => {
    stage = await TaskStage.open(document);
    ({ orm, url, characterId } = stage);
  });

  afterEach(() => stage.stopWorkers());

  after(() => stage.close());

  it('make a trial of the state that was ordered: the same bytes as a run here, whoever works', async () => {
    const { character } = await readCharacter(stage.files);
    const plan = createPlan(character);
    const ordered = await order(plan);
    expect(ordered).deep.include({
      state: 'queued',
      parts: 6,
      partsDone: 0,
      done: 0,
      title: '1 clip, 6 runs',
    });
    // What is edited after the order is not in it.
    await new AuthoredService(orm.em.fork()).write(characterId, [
      { id: SCENE_DEFAULTS.id, baseVersion: 1, record: { ...SCENE_DEFAULTS, windSpeed: 9 } },
    ]);
    await startWorker(2);
    await startWorker(1);
    const done = await wait(ordered.id, isEnded);
    expect(done).deep.include({ state: 'done', error: null, partsDone: 6 });
    const trial = await readTrial(ordered.id);
    const names = new Map(listGarments(document).map(({ id, name }) => [id, name]));
    const rows = listCases(plan).map((each) => {
      const setup = setUpRun(createCaseDocument(document, each), character);
      return collectRows(nameCase(each, character), [...runTrial(setup, each)], names);
    });
    expect(Buffer.compare(trial.measured.get()!, Buffer.from(packTrial(rows, 'measured')))).equal(0);
    expect(trial.caseCount).equal(6);
    // The blobs that it is of stay as long as it does.
    await new PurgeService(orm.em.fork()).purge({ blobMinutes: 0 });
    const task = await orm.em.fork().findOneOrFail(Task, { id: ordered.id }, { populate: ['hashes'] });
    expect(trial.hashes.get()).deep.equal(task.hashes.get());
    const kept = await orm.em
      .getConnection()
      .execute<{ hash: string }[]>(`select hash from blob where unused_since is null`);
    expect(kept.map(({ hash }) => hash)).include.members(trial.hashes.get()!);
  });

  it('tell how far they are, and end within a second when they are cancelled', async () => {
    const events = new TaskEvents(url);
    const told = new Set<string | null>();
    const stop = await events.subscribe((id) => told.add(id));
    await startWorker();
    const { id } = await order(long);
    const seen: number[] = [];
    const running = await wait(id, ({ done }) => {
      seen.push(done);
      return done > 150;
    });
    expect(running).deep.include({ state: 'running', total: 12 * 120 });
    expect(seen).deep.equal([...seen].sort((p, q) => p - q));
    const start = performance.now();
    expect(await tasks().cancel(id)).deep.include({ state: 'cancelled' });
    expect((await refusalOf(tasks().cancel(id))).message).contain('cancelled');
    // The thread is free again: the next task is done.
    const next = await order(short);
    await wait(next.id, ({ state }) => state !== 'queued');
    expect(performance.now() - start).below(2500);
    expect(await wait(next.id, isEnded)).deep.include({ state: 'done' });
    await new Promise((resolve) => setTimeout(resolve, 400));
    expect([...told]).include.members([id, next.id]);
    stop();
    await events.close();
    expect(await orm.em.fork().count(Trial, { id })).equal(0);
  });

  it('lose nothing when a worker is killed: another takes its parts up, and the bytes are the same', async () => {
    const killed: WorkerProcess = startWorkerProcess(url, 2, () => {});
    try {
      const { id } = await order(long);
      await wait(id, ({ done }) => done > 200);
      // The one that is started in its place takes a moment; this one is there at once.
      await startWorker();
      process.kill(killed.pid!, 'SIGKILL');
      expect(await wait(id, isEnded)).deep.include({ state: 'done', partsDone: 12 });
      const alone = await order(long);
      await wait(alone.id, isEnded);
      const [first, second] = [await readTrial(id), await readTrial(alone.id)];
      expect(Buffer.compare(first.measured.get()!, second.measured.get()!)).equal(0);
    } finally {
      await killed.stop();
    }
  });

  it('are found by a worker that was not there when they were ordered, nor told of them', async () => {
    const { id } = await order(short);
    const other = await order({ ...short, rates: [30] });
    // As if the server had gone down between storing an order and handing it out.
    await orm.em.getConnection().execute(`delete from pgboss.job where state = 'created'`);
    await orm.em.getConnection().execute(`update task_part set queued_at = now() - interval '1 minute'`);
    await startWorker();
    for (const each of [id, other.id]) expect(await wait(each, isEnded)).deep.include({ state: 'done' });
  });

  it('that start by themselves take the place of one another, and wait for those that were ordered', async () => {
    const first = await order(long, true);
    const second = await order(short, true);
    expect(await tasks().find(first.id)).deep.include({ state: 'cancelled' });
    const ordered = await order(short);
    await startWorker();
    await wait(second.id, isEnded);
    expect((await tasks().find(ordered.id)).finishedAt! < (await tasks().find(second.id)).finishedAt!).equal(
      true,
    );
  });

  it('search: candidates one generation after another, broken off and gone on with, to the same results', async () => {
    const limits = { stretch: 0.05, jitter: null };
    const order = (): Promise<TaskSummary> =>
      orders().orderSearch(characterId, {
        garmentId: listGarments(document)[0]!.id,
        variables: [
          { key: 'thickness', low: 0, high: 0.02 },
          { key: 'damping', low: 0, high: 10 },
          { key: 'reach', low: 0.2, high: 2 },
          { key: 'margin', low: -0.05, high: 0.03 },
        ],
        motions: short.motions,
        runs: 22,
        seed: 5,
        limits,
        budget: null,
      });
    const first = await order();
    expect(first).deep.include({
      kind: 'search',
      parts: 22,
      title: 'cloth: 4 numbers, 22 candidates',
      total: 22 * 60,
    });
    const killed = startWorkerProcess(url, 1, () => {});
    await wait(first.id, ({ partsDone }) => partsDone >= 10);
    const sofar = (await tasks().readFound<SearchRequest, SearchResult>(first.id)).results;
    expect(sofar.length).within(10, 20);
    process.kill(killed.pid!, 'SIGKILL');
    await killed.stop();
    await startWorker(2);
    expect(await wait(first.id, isEnded)).deep.include({ state: 'done', partsDone: 22 });
    const strip = ({ point, score, worst }: SearchResult): object => ({
      point,
      score,
      worst: { ...worst, cost: 0 },
    });
    const { results, request } = await tasks().readFound<SearchRequest, SearchResult>(first.id);
    expect(results.slice(0, sofar.length)).deep.equal(sofar);
    expect(results.length).equal(22);
    expect(results[0]!.point).deep.equal(request.plan.start);
    expect(Math.min(...results.map(({ score }) => score))).below(results[0]!.score);
    const second = await order();
    await wait(second.id, isEnded);
    const again = (await tasks().readFound<SearchRequest, SearchResult>(second.id)).results;
    expect(again.map(strip)).deep.equal(results.map(strip));
    // What was found is what is measured when the settings are put on.
    const best = results.reduce((p, q) => (q.score < p.score ? q : p));
    const values = best.point.map((share, v) => toValue(request.variables[v]!, share));
    const stored = await new AuthoredService(orm.em.fork()).readDocument(characterId);
    const garment = listGarments(stored)[0]!;
    const changed = applyChanges(stored, changeVariables(stored, garment, request.variables, values));
    const { character } = await readCharacter(stage.files);
    const frames = [...runTrial(setUpRun(changed, character), request.cases[0]!)];
    expect(best.worst.penetration).equal(
      Math.max(...frames.map(({ penetration }) => Math.fround(penetration))),
    );
    // Judged by the limits of the search.
    const rows = collectRows('push', frames, new Map([[garment.id, garment.name]]));
    const judge = (own: object): number =>
      scoreRows(
        [rows],
        garment.id,
        resolveAllLimits(changed, () => [own]),
        null,
      ).score;
    expect(best.score).equal(judge(limits));
    expect(best.score).not.equal(judge({}));
  });

  it('keep what a search had found when it is cancelled', async () => {
    const { id } = await orders().orderSearch(characterId, {
      garmentId: listGarments(document)[0]!.id,
      variables: [{ key: 'damping', low: 0, high: 10 }],
      motions: short.motions,
      runs: 500,
      seed: 1,
      limits: {},
      budget: 1000,
    });
    await startWorker(1);
    await wait(id, ({ partsDone }) => partsDone >= 3);
    const { partsDone } = await tasks().cancel(id);
    expect((await tasks().readFound<SearchRequest, SearchResult>(id)).results.length).equal(partsDone);
  });

  it('fail with a reason, and the worker goes on', async () => {
    const { id } = await order(short);
    await orm.em
      .getConnection()
      .execute(
        `update task set request = '{"cases": [{"motion": {"kind": "clip", "clip": 7}, "shape": null, "wind": "asSet", "rate": 60}]}' where id = ?`,
        [id],
      );
    await startWorker();
    const failed = await wait(id, isEnded);
    expect(failed.state).equal('failed');
    expect(failed.error).contain('There is no clip 7');
    const next = await order(short);
    expect(await wait(next.id, isEnded)).deep.include({ state: 'done' });
  });

  it('refuse what the character does not have, and a page that shows another state', async () => {
    const refused = async (plan: Partial<TrialPlan>, words: string): Promise<void> =>
      void expect((await refusalOf(order({ ...short, ...plan }))).message).contain(words);
    await refused({ motions: [] }, 'nothing to play');
    await refused({ motions: [{ kind: 'clip', clip: 3 }] }, 'no clip 4');
    await refused({ shapes: ['broad'] }, 'no morph target "broad"');
    await refused({ motions: [{ kind: 'blend', from: 0, to: 0, at: 5, seconds: 0.2 }] }, 'only 1.00 s long');
    const search = (change: object): Promise<unknown> =>
      orders().orderSearch(characterId, {
        garmentId: listGarments(document)[0]!.id,
        variables: [{ key: 'damping', low: 0, high: 10 }],
        motions: short.motions,
        runs: 20,
        seed: 1,
        limits: {},
        budget: null,
        ...change,
      });
    const failing: [object, string][] = [
      [{ garmentId: 'gone' }, 'not there any more'],
      [{ variables: [] }, 'Choose from 1 to'],
      [{ variables: [{ key: 'damping', low: 3, high: 2 }] }, 'Damping: the lower bound must be below'],
      [{ variables: [{ key: 'damping', low: 0, high: 200 }] }, 'within its range'],
      [{ variables: Array(2).fill({ key: 'damping', low: 0, high: 1 }) }, 'Damping is chosen twice'],
      [{ motions: [] }, 'nothing to play'],
    ];
    for (const [change, words] of failing) expect((await refusalOf(search(change))).message).contain(words);
    const seen = { source: 'other', versions: {} };
    const error = await refusalOf(
      orders().orderTrial(characterId, { plan: short, isAutomatic: false, seen }),
    );
    expect(error.status).equal(409);
    expect((await refusalOf(tasks().find('no-id'))).status).equal(404);
  });
});
