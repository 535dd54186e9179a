import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { strFromU8, unzipSync } from 'fflate';
import { parseTargetFile } from '../../core/budget/index.ts';
import { runHere } from '../test-command.ts';

describe('calibrating for another machine, from the command line', function () {
  this.timeout(120_000);
  const folder = mkdtempSync(join(tmpdir(), 'cobweb-calibrate-'));
  const run = (...args: string[]) => runHere(folder, args);
  const write = (name: string, text: string): void => writeFileSync(join(folder, name), text);

  after(() => rmSync(folder, { recursive: true }));

  it('writes the garments with their table, and makes a profile of it filled in', async () => {
    expect((await run('calibrate', '--template', 'kit.zip')).status).equal(0);
    const files = unzipSync(readFileSync(join(folder, 'kit.zip')));
    const table = strFromU8(files['timings.csv']!);
    write('empty.csv', table);
    const empty = await run('calibrate', '--from', 'empty.csv', '--unkept');
    expect(empty.status).equal(2);
    expect(empty.stderr).contain('empty.csv: No time is filled in');
    // Only some are timed, and each as long: that does not go with their work, which is said.
    write('odd.csv', table.replace(/^(plain large|stiff|wind),(.*),,,$/gm, '$1,$2,2,,'));
    const odd = await run('calibrate', '--from', 'odd.csv', '--unkept');
    expect(odd.status).equal(0);
    expect(odd.stdout).contain('assumed: the timings do not tell it').contain('do not go with the work');
    const { status, stdout } = await run(
      'calibrate',
      '--from',
      'odd.csv',
      '--name',
      'Console',
      '--unkept',
      '--json',
    );
    expect(status).equal(0);
    const target = parseTargetFile(stdout);
    expect(target).include({ name: 'Console', framesPerSecond: 60 });
    expect(target.costs.timed!.map(({ name }) => name)).deep.equal(['plain large', 'stiff', 'wind']);
  });

  it('says what it cannot do', async () => {
    const refuse = async (...args: string[]): Promise<string> => {
      const { status, stderr } = await run('calibrate', ...args);
      expect(status).equal(2);
      return stderr;
    };
    expect(await refuse('--from', 'nowhere.csv')).contain('no such file');
    expect(await refuse('--from', 'a.csv', '--template', 'b.zip')).contain('Give one of them');
    expect(await refuse('--template', join('nowhere', 'kit.zip'))).contain('no such folder');
    write('other.csv', 'a,b\n1,2\n');
    expect(await refuse('--from', 'other.csv')).contain('no column “garment”');
  });
});
