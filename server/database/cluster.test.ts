import { chmodSync, mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { PostgresCluster } from './cluster.ts';
import { createOrm } from './orm.ts';

describe('a database server of our own', function () {
  this.timeout(60_000);
  const parent = mkdtempSync(join(tmpdir(), 'cobweb-cluster-'));
  chmodSync(parent, 0o711);
  const folder = join(parent, 'postgres');

  after(() => rmSync(parent, { recursive: true, force: true }));

  it('is made once, joined by a second start, keeps its data, and wants its password', async () => {
    const first = await PostgresCluster.start({ folder });
    const orm = await createOrm(first.url);
    await orm.em.getConnection().execute('create table kept (n int)');
    await orm.close();
    const second = await PostgresCluster.start({ folder });
    expect(second.url).equal(first.url);
    // The second did not start it, so it does not stop it.
    await second.stop();
    const still = await createOrm(first.url);
    await still.em.getConnection().execute('insert into kept values (7)');
    await still.close();
    const url = new URL(first.url);
    expect(url.hostname).equal('127.0.0.1');
    url.password = 'wrong';
    const refusal: unknown = await createOrm(url.href).catch((error: unknown) => error);
    expect(String(refusal)).contain('password authentication failed');
    expect(statSync(join(folder, 'password')).mode & 0o077).equal(0);
    await first.stop();

    const third = await PostgresCluster.start({ folder });
    const again = await createOrm(third.url);
    expect(await again.em.getConnection().execute('select n from kept')).deep.equal([{ n: 7 }]);
    await again.close();
    await third.stop();
  });

  it('leaves nothing when it is a throw-away one', async () => {
    const thrown = join(parent, 'thrown');
    const cluster = await PostgresCluster.start({ folder: thrown, isThrowaway: true });
    await cluster.stop();
    expect(readdirSync(parent)).not.include('thrown');
  });
});
