import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { expect } from 'chai';
import { findProjectRoot } from '../../server/project-root.ts';
import { createEmptyDatabase } from '../../server/test-database.ts';
import { runHere } from '../test-command.ts';

describe('./cobweb worker', function () {
  this.timeout(60_000);

  it('prepares a database, waits for tasks, and ends when it is told to', async () => {
    const { orm, url } = await createEmptyDatabase();
    await orm.close();
    const child = spawn(join(findProjectRoot(), 'cobweb'), ['worker', '--database', url, '--threads', '1'], {
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let said = '';
    await new Promise<void>((resolve, reject) => {
      child.stdout.on('data', (chunk: Buffer) => {
        said += chunk.toString();
        if (said.includes('waiting for tasks')) resolve();
      });
      child.once('exit', () => reject(new Error(`It ended: ${said}`)));
    });
    expect(said).contain('worker: 1 thread, waiting for tasks');
    const ended = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    expect(await ended).equal(0);
  });

  it('says what is missing or wrong, in one line', async () => {
    const refused = async (args: string[], words: string): Promise<void> => {
      const { status, stderr } = await runHere(findProjectRoot(), ['worker', ...args], { DATABASE_URL: '' });
      expect(status).equal(2);
      expect(stderr).match(/^cobweb worker: [^\n]+\n$/);
      expect(stderr).contain(words);
    };
    await refused([], 'name the database with --database');
    const nobody = 'postgres://nobody@127.0.0.1:1/none';
    await refused(['--database', nobody, '--threads', '0'], '--threads 0: it is a number from 1 to 256');
    await refused(['--database', nobody], 'the database does not answer');
  });
});
