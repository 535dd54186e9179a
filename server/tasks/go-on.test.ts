import { setTimeout as sleep } from 'node:timers/promises';
import { expect } from 'chai';
import { listGarments } from '../../core/document/index.ts';
import { createScene } from '../../core/trials/test-scene.ts';
import { goOn } from './go-on.ts';
import { TaskStage } from './test-tasks.ts';

describe('going on with a task', function () {
  this.timeout(60_000);
  const { document } = createScene({ hasBody: true });
  let stage: TaskStage;

  before(async () => {
    stage = await TaskStage.open(document);
  });

  after(() => stage.close());

  it('is one worker’s, however many end their last parts at the same moment', async () => {
    const { id, parts } = await stage.orders.orderSearch(stage.characterId, {
      garmentId: listGarments(document)[0]!.id,
      variables: [{ key: 'damping', low: 0, high: 10 }],
      motions: [{ kind: 'clip', clip: 0 }],
      runs: 40,
      seed: 5,
      limits: {},
      budget: null,
    });
    const { orm } = stage;
    const connection = orm.em.fork().getConnection();
    await connection.execute(`update task set state = 'running' where id = ?`, [id]);
    const endParts = (): Promise<unknown> =>
      connection.execute(
        `update task_part set state = 'done',
           result = jsonb_build_object('point', request, 'score', index, 'cost', 1, 'worst', '{}'::jsonb)
         where task_id = ? and state = 'queued'`,
        [id],
      );
    const count = async (): Promise<number> => {
      const [row] = await connection.execute<{ count: string }[]>(
        'select count(*) from task_part where task_id = ?',
        [id],
      );
      return Number(row!.count);
    };
    await endParts();
    const before = await count();
    // All of them have asked before the first one gets it.
    const gone = await orm.em
      .fork()
      .transactional(async (em) => {
        await em
          .getConnection()
          .execute('select id from task where id = ? for update', [id], 'all', em.getTransactionContext());
        const asked = [1, 2, 3].map(() => goOn(orm.em.fork(), id));
        await sleep(300);
        return asked;
      })
      .then((asked) => Promise.all(asked));
    const took = gone.filter((one) => one !== null);
    expect(took.length).equal(1);
    expect(took[0]!.parts.length).above(0);
    expect(await count()).equal(before + took[0]!.parts.length);
    expect(parts).equal(40);
  });
});
