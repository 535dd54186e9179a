import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { expect } from 'chai';
import { parseBodySet, placeBodySet } from '../../core/document/index.ts';
import { Pose, poseSection } from '../../core/rig/index.ts';
import { readCharacter } from '../../formats/index.ts';
import { createStrip } from '../../formats/test-gltf.ts';
import { createOrm } from '../../server/database/orm.ts';
import { IntakePool } from '../../server/intake/intake-pool.ts';
import { findProjectRoot } from '../../server/project-root.ts';
import { seedDemo } from '../../server/seed-demo.ts';
import { createTestDatabase } from '../../server/test-database.ts';
import type { Command } from '../command.ts';
import { runHere } from '../test-command.ts';

describe('pipeline commands', function () {
  this.timeout(240_000);
  const root = findProjectRoot();
  const folder = mkdtempSync(join(tmpdir(), 'cobweb-cli-'));
  const strip = join(folder, 'strip.glb');

  const run = (args: string[], environment: Record<string, string> = {}) =>
    runHere(folder, args, environment);

  /** In a process of its own, as from a terminal. */
  const start = (...args: string[]) => {
    const loader = pathToFileURL(join(root, 'node_modules/tsx/dist/loader.mjs')).href;
    const { status, stdout, stderr } = spawnSync(
      process.execPath,
      ['--import', loader, join(root, 'cli/main.ts'), ...args],
      { cwd: folder, encoding: 'utf8', env: { ...process.env, NODE_NO_WARNINGS: '1' } },
    );
    return { status, stdout, stderr };
  };

  before(() => writeFileSync(strip, createStrip().toGlb()));
  after(() => rmSync(folder, { recursive: true }));

  it('explain themselves, and refuse what they do not know', async () => {
    const help = start('--help').stdout;
    const names = [...help.matchAll(/^ {2}(\w+) {2}/gm)].map(([, name]) => name!);
    expect(names.length).above(9);
    for (const name of names) {
      const { command } = (await import(`./${name}.ts`)) as { command: Command };
      expect(command.usage).match(new RegExp(`^Usage: \\./cobweb ${name}\\b`));
      expect(help).contain(command.summary);
    }
    expect(await run(['map', '--help'])).include({ status: 0 });
    expect(await run(['dance'])).include({
      status: 2,
      stderr: 'cobweb: there is no command "dance". ./cobweb --help lists them.\n',
    });
    expect((await run(['inspect', '--colour', strip])).status).equal(2);
    expect((await run(['inspect'])).status).equal(2);
  });

  it('inspect: exit 0 with the report, 2 with the reason', async () => {
    const report = JSON.parse((await run(['inspect', 'strip.glb', '--json'])).stdout) as {
      counts: { joints: number };
      clips: unknown[];
    };
    expect(report.counts.joints).equal(2);
    const listed = (await run(['inspect', strip])).stdout;
    expect(listed)
      .contain('bend: 2.00 s')
      .and.match(/^size {7}\d\.\d{3} x \d\.\d{3} x \d\.\d{3} m in bind pose$/m);
    expect(listed).match(/\d+ triangles, [12] influences/);
    writeFileSync(join(folder, 'torn.glb'), createStrip().toGlb().slice(0, 500));
    const torn = await run(['inspect', 'torn.glb']);
    expect(torn.status).equal(2);
    expect(torn.stderr).match(/^cobweb inspect: torn\.glb, header: \d+ bytes are declared, 500 are there/);
    const told = await run(['inspect', 'torn.glb', '--json']);
    expect(told.status).equal(2);
    expect((JSON.parse(told.stdout) as { error: { code: string } }).error.code).equal('truncated');
    expect((await run(['inspect', 'nowhere.glb'])).stderr).contain('there is no such file');
  });

  it('inspect: a .gltf finds its buffer beside it, and nothing above its folder', async () => {
    const builder = createStrip();
    builder.json.buffers.push({ uri: 'strip%20data.bin' });
    writeFileSync(join(folder, 'strip.gltf'), JSON.stringify(builder.finish()));
    writeFileSync(join(folder, 'strip data.bin'), builder.bytes);
    expect((await run(['inspect', 'strip.gltf'])).status).equal(0);
    builder.json.buffers[0]!.uri = '../../../../../../etc/hostname';
    writeFileSync(join(folder, 'strip.gltf'), JSON.stringify(builder.finish()));
    expect((await run(['inspect', 'strip.gltf'])).stderr).contain(
      'needs "hostname", which did not come along',
    );
  });

  it('pose: the vertices of the file in its own order, by name or number of the clip', async () => {
    const { character } = await readCharacter([{ name: 'strip.glb', bytes: readFileSync(strip) }]);
    const pose = new Pose(character);
    pose.setClip(character.clips[0]!, 0.7);
    const expected = [...poseSection(character, 0, pose)];
    for (const clip of ['bend', '0']) {
      const { stdout } = await run(['pose', strip, '--clip', clip, '--time', '0.7', '--json']);
      const { sections } = JSON.parse(stdout) as {
        sections: { mesh: string; primitive: number; positions: number[] }[];
      };
      expect(sections).length(1);
      expect(sections[0]).include({ mesh: 'Strip', primitive: 0 });
      expect(sections[0]!.positions).deep.equal(expected);
    }
    expect((await run(['pose', strip, '--clip', 'jump'])).stderr).contain(
      'there is no clip "jump". The file has: 0 "bend".',
    );
    expect((await run(['pose', strip, '--time', 'noon'])).status).equal(2);
  });

  it('ship: a character of the database by its name, and a shipped file again with the same cloth', async () => {
    const { orm, url } = await createTestDatabase();
    await orm.close();
    const seeding = await createOrm(url);
    const pool = new IntakePool();
    await seedDemo(seeding, pool, join(root, '.cobweb', 'cache'));
    await pool.close();
    await seeding.close();
    const environment = { DATABASE_URL: url };
    const shipped = await run(['ship', 'Saltreed/Ferry pilot', '-o', 'pilot.glb', '--json'], environment);
    expect(shipped.stderr).equal('');
    const told = JSON.parse(shipped.stdout) as { revision: number; validation: { errors: number } };
    expect(told.validation.errors).equal(0);
    expect(told.revision).at.least(1);
    const first = readFileSync(join(folder, 'pilot.glb'));
    expect((await readCharacter([{ name: 'pilot.glb', bytes: first }])).authored!.arrays.size).equal(2);
    const rewritten = await run(['ship', 'pilot.glb', '-o', 'again.glb', '--json']);
    expect(rewritten.status).equal(0);
    expect(rewritten.stdout).not.contain('"revision"');
    const again = await readCharacter([
      { name: 'pilot.glb', bytes: readFileSync(join(folder, 'again.glb')) },
    ]);
    expect(again.authored).deep.equal((await readCharacter([{ name: 'pilot.glb', bytes: first }])).authored);
    expect((await run(['ship', 'Nobody', '-o', 'x.glb'], environment)).stderr).contain(
      'Saltreed/Ferry pilot',
    );
    expect((await run(['ship', strip, '-o', 'x.glb'])).stderr).contain('has no cloth data');
  });

  it('bodies: how they fit, and what each does', async () => {
    const told = await run(['bodies', 'pilot.glb', '--clips', 'walk', '--json']);
    expect(told.stderr).equal('');
    const { bind, bodies } = JSON.parse(told.stdout) as {
      bind: { coverage: number; overhang: number };
      bodies: { name: string; bind: { coverage: number } }[];
    };
    expect(bind.coverage).within(0.85, 1);
    expect(bind.overhang).below(0.013);
    expect(bodies.length).above(10);
    expect(bodies.find(({ name }) => name === 'leg_l')!.bind.coverage).above(0.9);
    expect((await run(['bodies', 'pilot.glb', '--clips', 'swim'])).stderr).contain('there is no clip "swim"');
    expect((await run(['bodies'])).status).equal(2);
  });

  it('suggest: bodies for a shipped file, as a set that the workbench takes in', async () => {
    const asked = ['suggest', 'pilot.glb', '--bodies', '5', '--clips', 'walk', '-o', 'set.json', '--json'];
    const suggested = await run(asked);
    expect(suggested.stderr).equal('');
    expect(suggested.status).equal(0);
    const { sets } = JSON.parse(suggested.stdout) as { sets: { bodies: number; showThrough: number }[] };
    const last = sets.at(-1)!;
    expect([sets[0]!.bodies, last.bodies]).deep.equal([0, 5]);
    expect(last.showThrough).below(sets[0]!.showThrough / 3);
    const set = parseBodySet(readFileSync(join(folder, 'set.json'), 'utf8'));
    expect(set.bodies.length).equal(5);
    const bytes = new Uint8Array(readFileSync(join(folder, 'pilot.glb')));
    const { character } = await readCharacter([{ name: 'pilot.glb', bytes }]);
    expect(placeBodySet(set, character).every(({ body, scale }) => body && scale === 1)).equal(true);
    // No limit can be reached with one body.
    const limits = ['--penetration', '0.1', '--show-through', '0.1'];
    expect((await run(['suggest', 'pilot.glb', '--bodies', '1', '--clips', 'walk', ...limits])).status).equal(
      1,
    );
    const refuse = async (...args: string[]): Promise<string> => (await run(['suggest', ...args])).stderr;
    expect(await refuse('pilot.glb', '--clips', 'swim')).contain('there is no clip "swim"');
    expect(await refuse('pilot.glb', '--bodies', 'many')).contain('--bodies is a number from 1 to 64');
    expect(await refuse(strip)).contain('has no garments');
  });
});
