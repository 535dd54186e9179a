import { expect } from 'chai';
import { listGarments } from '../../core/document/index.ts';
import {
  type CaseRows,
  collectRows,
  createCase,
  packTrial,
  runTrial,
  type TrialCase,
} from '../../core/trials/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import type { Subject } from './jobs/index.ts';
import { createSubject, type WorkOptions, WorkPool } from './work-pool.ts';

describe('threads that do jobs', function () {
  this.timeout(120_000);
  const { document, setup } = createScene({ hasBody: true });
  const character = setup.base;
  const push: TrialCase = createCase({ kind: 'clip', clip: 0 });
  const pools: WorkPool[] = [];
  const open = (threads: number): WorkPool => {
    const pool = new WorkPool(threads);
    pools.push(pool);
    return pool;
  };
  after(() => Promise.all(pools.map((pool) => pool.close())));

  const measure = (pool: WorkPool, subject: Subject, trialCase: TrialCase, options: WorkOptions = {}) =>
    pool.run(subject, 'measureCase', { trialCase }, options);
  const pack = (rows: CaseRows): Uint8Array => packTrial([rows], 'measured');

  it('give the same bytes as a run here, whoever measures, in whichever order', async () => {
    const names = new Map(listGarments(document).map(({ id, name }) => [id, name]));
    const here = collectRows('push', [...runTrial(setup, { ...push })], names);
    const subject = createSubject(character, document);
    const cases = [push, { ...push, rate: 30 } as const, { ...push, wind: 'strong' } as const, push];
    const [one, two] = [open(1), open(2)];
    const first = await Promise.all(cases.map((each) => measure(one, subject, each)));
    const again = await Promise.all([...cases].reverse().map((each) => measure(two, subject, each)));
    expect(first.map(({ rows }) => pack(rows))).deep.equal(again.reverse().map(({ rows }) => pack(rows)));
    expect(pack(first[0]!.rows)).deep.equal(pack(here));
    expect(pack(first[3]!.rows)).deep.equal(pack(here));
    expect(first.map(({ rows }) => rows.name)).deep.equal([
      'push',
      'push · 30 fps',
      'push · strong wind',
      'push',
    ]);
    // The wind lifts the sheet where there was none.
    expect(pack(first[2]!.rows)).not.deep.equal(pack({ ...here, name: 'push · strong wind' }));
    expect(first.every(({ seconds }) => seconds > 0)).equal(true);
  });

  it('take the next character up, and tell how far they are', async () => {
    const pool = open(1);
    const bare = createScene({});
    const [held, fallen] = [
      createSubject(character, document),
      createSubject(bare.setup.base, bare.document),
    ];
    const told: number[] = [];
    const slow: TrialCase = { ...push, rate: 120 };
    const { rows } = await measure(pool, held, slow, { onDone: (count) => told.push(count) });
    const most = async (subject: typeof held): Promise<number> => {
      const { rows } = await measure(pool, subject, push);
      return Math.max(...rows.whole.penetration);
    };
    expect(await most(held)).below(0.004);
    expect(await most(fallen)).above(0.06);
    expect(await most(held)).below(0.004);
    expect(rows.times.length).equal(120);
    expect(told).deep.equal([...told].sort((p, q) => p - q));
    expect(told.every((count) => count >= 1 && count <= 120)).equal(true);
  });

  it('end at once when they are told to, and go on with the next', async () => {
    const pool = open(1);
    const subject = createSubject(character, document);
    // The thread is up.
    await measure(pool, subject, push);
    const control = new AbortController();
    const long = measure(pool, subject, { ...push, rate: 120 }, { signal: control.signal });
    const start = performance.now();
    setTimeout(() => control.abort(), 50);
    const error: unknown = await long.catch((reason: unknown) => reason);
    expect((error as Error).name).equal('AbortError');
    expect(performance.now() - start).below(1000);
    expect((await measure(pool, subject, push)).rows.times.length).equal(60);
  });

  it('say what a run throws', async () => {
    const pool = open(1);
    const error: unknown = await measure(
      pool,
      createSubject(character, document),
      createCase({ kind: 'clip', clip: 7 }),
    ).catch((reason: unknown) => reason);
    expect((error as Error).message).contain('There is no clip 7');
  });
});
