import { cpSync, existsSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { expect } from 'chai';
import { findProjectRoot } from '../server/project-root.ts';
import { type StartedProcess, startProcess } from './started-process.ts';

describe('the application started in a folder that is closed to others', () => {
  const home = mkdtempSync(join(tmpdir(), 'cobweb home-'));
  let started: StartedProcess | null = null;
  let clusterFolder = '';

  after(() => {
    started?.child.kill('SIGKILL');
    rmSync(home, { recursive: true, force: true });
    // As root the database stands elsewhere, in a folder of this data folder alone.
    if (clusterFolder.startsWith('/var/lib/cobweb/'))
      rmSync(dirname(clusterFolder), { recursive: true, force: true });
  });

  it('makes its database, serves the demo, and leaves nothing running when it is stopped', async () => {
    const data = join(home, 'data');
    mkdirSync(join(home, 'tmp'));
    const cache = join(findProjectRoot(), '.cobweb', 'cache');
    if (existsSync(cache)) cpSync(cache, join(data, 'cache'), { recursive: true });
    // The folder is named from where the command is called.
    started = await startProcess(
      { COBWEB_DATA: 'data', TMPDIR: join(home, 'tmp'), DATABASE_URL: undefined },
      home,
    );
    clusterFolder = /data in (.+)/.exec(started.readPrinted())![1]!;
    if (process.getuid?.() !== 0) expect(clusterFolder).equal(join(data, 'postgres'));
    const answer = await fetch(`${started.address}/api/projects`);
    expect(answer.headers.get('content-security-policy')).equal("frame-ancestors 'none'");
    const page = await fetch(started.address);
    expect(page.headers.get('content-security-policy'))
      .match(/script-src [^;]*'self'/)
      .and.match(/; frame-ancestors 'none'$/);
    const { projects } = (await answer.json()) as { projects: { name: string; characters: object[] }[] };
    expect(projects.map(({ name }) => name)).deep.equal(['Saltreed']);
    expect(projects[0]!.characters).length(3);
    const ended = new Promise((resolve) => started!.child.once('exit', resolve));
    started.child.kill('SIGINT');
    expect(await ended).equal(0);
    expect(existsSync(join(clusterFolder, 'data', 'postmaster.pid'))).equal(false);
  });
});
