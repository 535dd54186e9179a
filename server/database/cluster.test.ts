import { execFileSync } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { expect } from 'chai';
import { PostgresCluster } from './cluster.ts';
import { findDatabaseUser, makeOpenFolder, makeTemporaryFolder } from './database-user.ts';
import { createOrm } from './orm.ts';

describe('a database server of our own', function () {
  this.timeout(120_000);
  const parent = makeTemporaryFolder('cobweb-cluster-');
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

  it('works in a folder named from where we are, in new parents, under a umask that closes everything', async () => {
    const deep = join(parent, 'new', 'and', 'a name', 'postgres');
    const umask = process.umask(0o077);
    try {
      const cluster = await PostgresCluster.start({
        folder: relative(process.cwd(), deep),
        isThrowaway: true,
      });
      await cluster.stop();
    } finally {
      process.umask(umask);
    }
    for (const above of [dirname(deep), join(parent, 'new')])
      expect(statSync(above).mode & 0o777, above).equal(0o755);
    expect(existsSync(deep)).equal(false);
  });

  it('says in words which folder is closed to it, and why a server ended', async () => {
    const user = findDatabaseUser();
    if (user) {
      const closed = mkdtempSync(join(parent, 'closed-'));
      const refused = await PostgresCluster.start({ folder: join(closed, 'postgres') }).catch(String);
      expect(refused).contain(`cannot enter ${closed}`).and.contain('COBWEB_DATA');
    }
    const broken = join(parent, 'broken', 'postgres');
    await (await PostgresCluster.start({ folder: broken })).stop();
    rmSync(join(broken, 'data', 'postgresql.conf'));
    const ended = await PostgresCluster.start({ folder: broken }).catch(String);
    expect(ended).contain('ended at once').and.contain('postgresql.conf');
  });

  it('runs as the user who made it when root starts it', async () => {
    const user = findDatabaseUser();
    if (!user) return;
    // Any other user than root and the one that it would be otherwise.
    const other = { uid: 65_534, gid: 65_534 };
    const theirs = join(parent, 'theirs', 'postgres');
    await (await PostgresCluster.start({ folder: theirs })).stop();
    execFileSync('chown', ['-R', `${other.uid}:${other.gid}`, theirs]);
    const cluster = await PostgresCluster.start({ folder: theirs });
    const orm = await createOrm(cluster.url);
    expect(await orm.em.getConnection().execute('select 1 as n')).deep.equal([{ n: 1 }]);
    await orm.close();
    await cluster.stop();
  });
});

describe('folders for the database', () => {
  it('of what is thrown away are elsewhere when the temporary folder is closed to its user', async () => {
    const user = findDatabaseUser();
    const closed = makeTemporaryFolder('cobweb-closed-');
    chmodSync(closed, 0o700);
    const before = process.env.TMPDIR;
    process.env.TMPDIR = closed;
    try {
      const folder = makeTemporaryFolder('cobweb-thrown-');
      // Only root's database runs as somebody else, to whom it is closed.
      expect(dirname(folder) === closed).equal(user === null);
      const cluster = await PostgresCluster.start({ folder: join(folder, 'postgres'), isThrowaway: true });
      await cluster.stop();
      rmSync(folder, { recursive: true });
    } finally {
      if (before === undefined) delete process.env.TMPDIR;
      else process.env.TMPDIR = before;
      rmSync(closed, { recursive: true });
    }
  });

  it('that exist keep their rights; new ones are open', () => {
    const parent = makeTemporaryFolder('cobweb-open-');
    const kept = join(parent, 'kept');
    mkdirSync(kept, { mode: 0o750 });
    makeOpenFolder(join(kept, 'new'));
    expect(statSync(kept).mode & 0o777).equal(0o750);
    expect(statSync(join(kept, 'new')).mode & 0o777).equal(0o755);
    rmSync(parent, { recursive: true });
  });
});
