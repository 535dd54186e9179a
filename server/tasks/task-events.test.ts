import type { MikroORM } from '@mikro-orm/postgresql';
import { expect } from 'chai';
import { createTestDatabase } from '../test-database.ts';
import { TaskEvents } from './task-events.ts';

describe('news of tasks', function () {
  this.timeout(30_000);
  let orm: MikroORM;
  let events: TaskEvents;
  const notify = (id: string) => orm.em.getConnection().execute(`select pg_notify('cobweb_task', ?)`, [id]);
  const until = async (isSo: () => boolean): Promise<void> => {
    for (let tries = 0; !isSo() && tries < 200; tries++)
      await new Promise((resolve) => setTimeout(resolve, 25));
    expect(isSo()).equal(true);
  };

  before(async () => {
    const { orm: made, url } = await createTestDatabase();
    orm = made;
    events = new TaskEvents(url);
  });

  after(async () => {
    await events.close();
    await orm.close();
  });

  it('come to everybody who listens, many changes of one task as one', async () => {
    const [first, second]: (string | null)[][] = [[], []];
    const stops = [
      await events.subscribe((id) => first!.push(id)),
      await events.subscribe((id) => second!.push(id)),
    ];
    for (let n = 0; n < 20; n++) await notify('a');
    await notify('b');
    await until(() => first!.includes('b') && first!.includes('a'));
    expect(first!.filter((id) => id === 'a').length).below(5);
    expect(second).deep.equal(first);
    for (const stop of stops) stop();
    await notify('c');
    await new Promise((resolve) => setTimeout(resolve, 500));
    expect(first).not.include('c');
  });

  it('go on when the connection breaks, after saying that anything may have changed', async () => {
    const told: (string | null)[] = [];
    const stop = await events.subscribe((id) => told.push(id));
    await orm.em
      .getConnection()
      .execute(
        `select pg_terminate_backend(pid) from pg_stat_activity where application_name = 'cobweb events'`,
      );
    await until(() => told.includes(null));
    await notify('d');
    await until(() => told.includes('d'));
    stop();
  });
});
