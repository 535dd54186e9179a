import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { expect } from 'chai';
import { writeTargetFile } from '../../core/budget/index.ts';
import { REFERENCE_COSTS, REFERENCE_TARGET } from '../../core/cost/index.ts';
import { parseBodySet, placeBodySet } from '../../core/document/index.ts';
import { Pose, poseSection } from '../../core/rig/index.ts';
import { readCharacter } from '../../formats/index.ts';
import { createStrip } from '../../formats/test-gltf.ts';
import { createOrm } from '../../server/database/orm.ts';
import { Trial } from '../../server/entities/entities.ts';
import { IntakePool } from '../../server/intake/intake-pool.ts';
import { findProjectRoot } from '../../server/project-root.ts';
import { seedDemo } from '../../server/seed-demo.ts';
import { createTestDatabase } from '../../server/test-database.ts';
import { TrialService } from '../../server/trials/trial-service.ts';
import type { BudgetReport } from '../budget/report-budget.ts';
import type { Command } from '../command.ts';
import { runHere } from '../test-command.ts';
import type { TrialReport } from '../trial/trial-report.ts';

describe('pipeline commands', function () {
  this.timeout(240_000);
  const root = findProjectRoot();
  const folder = mkdtempSync(join(tmpdir(), 'cobweb-cli-'));
  const strip = join(folder, 'strip.glb');
  /** Of a database with the demo, once it is there. */
  let url = '';

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
    const database = await createTestDatabase();
    await database.orm.close();
    ({ url } = database);
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
    // Hips and legs keep a margin of 10 mm.
    expect(bind.overhang).below(0.021);
    expect(bodies.length).above(10);
    expect(bodies.find(({ name }) => name === 'leg_l')!.bind.coverage).above(0.9);
    expect((await run(['bodies', 'pilot.glb', '--clips', 'swim'])).stderr).contain('there is no clip "swim"');
    expect((await run(['bodies'])).status).equal(2);
  });

  it('budget: what a clip costs by task and garment, against the budget of a target', async () => {
    const asked = ['budget', 'pilot.glb', '--clip', 'walk', '--no-advice'];
    const { status, stdout } = await run([...asked, '--json']);
    const report = JSON.parse(stdout) as BudgetReport;
    expect(status).equal(0);
    expect(report).include({ profile: 'Reference machine', budgetMicroseconds: 2000 });
    const { mean, p95, worst, parts } = report.costMicroseconds;
    // The demo keeps the budget on the reference machine.
    expect(mean).within(1000, 2000);
    expect(p95).within(mean, worst);
    const ofParts = Object.values(parts).reduce((sum, part) => sum + part, 0);
    expect(ofParts).closeTo(mean, 5);
    expect(report.garments.map(({ name }) => name)).deep.equal(['Sash tail', 'Poncho']);
    expect(report.advice).deep.equal([]);
    // On a target that is twice as fast, of half the frame rate: less than twice as much for each frame, at half the price.
    const costs = Object.fromEntries(Object.entries(REFERENCE_COSTS).map(([unit, cost]) => [unit, cost / 2]));
    const file = {
      ...writeTargetFile(REFERENCE_TARGET),
      name: 'Console',
      framesPerSecond: 30,
      nanoseconds: costs,
    };
    writeFileSync(join(folder, 'console.json'), JSON.stringify(file));
    const there = await run([...asked, '--profile', 'console.json', '--json']);
    const console = JSON.parse(there.stdout) as BudgetReport;
    expect(console).include({ profile: 'Console', budgetMicroseconds: 4000 });
    expect(console.costMicroseconds.mean / mean).within(0.6, 0.99);
    expect(there.status).equal(console.costMicroseconds.mean > 4000 ? 1 : 0);
    const within = await run([...asked, '--budget', '50']);
    expect(within.status).equal(0);
    expect(within.stdout).contain('within the budget').contain('Poncho');
    expect(await run([...asked, '--budget', 'much'])).include({ status: 2 });
    expect((await run([...asked, '--profile', 'pilot.glb'])).stderr).contain('not JSON');
  });

  it('budget --levels: what each level costs, where it is, and how many fit', async () => {
    const asked = ['budget', 'pilot.glb', '--clip', 'walk', '--no-advice', '--levels'];
    const { stdout, stderr } = await run([...asked, '--screen', '720', '--json']);
    expect(stderr).equal('');
    const report = JSON.parse(stdout) as BudgetReport;
    // The demo has none of its own.
    expect(report.crowd!.areProposed).equal(true);
    const { sizes } = report.crowd!;
    expect(sizes[0]!.costMicroseconds).equal(report.costMicroseconds.mean);
    sizes.slice(1).forEach(({ costMicroseconds, switchMicroseconds, toMetres }, s) => {
      expect(costMicroseconds).below(sizes[s]!.costMicroseconds);
      expect(switchMicroseconds).above(costMicroseconds);
      if (toMetres !== null) expect(toMetres).above(sizes[s]!.toMetres!);
    });
    for (const { costMicroseconds, fits } of sizes)
      expect(fits).equal(Math.floor(report.budgetMicroseconds / costMicroseconds));
    for (const { levels, costMicroseconds } of report.garments) {
      expect(levels!.length).equal(4);
      expect(levels![0]!.costMicroseconds).below(costMicroseconds);
      expect(levels![3]!.costMicroseconds).equal(0);
    }
    expect((await run([...asked, '--fov', '200'])).stderr).contain('--fov 200');
  });

  it('trial: a character of the database and its shipped file alike, but for the cost; with limits and their verdict', async () => {
    const environment = { DATABASE_URL: url };
    const asked = ['--clip', 'run', '--blend', 'run,walk,0.3,0.2', '--json'];
    const stored = await run(['trial', 'Saltreed/Ferry pilot', ...asked], environment);
    const shipped = await run(['trial', 'pilot.glb', ...asked, '--threads', '1']);
    expect([stored.stderr, shipped.stderr]).deep.equal(['', '']);
    const [one, other] = [stored, shipped].map(({ stdout }) => JSON.parse(stdout) as TrialReport);
    for (const clip of [...one!.clips, ...other!.clips]) {
      expect(clip.worst.costMicroseconds).above(0);
      delete clip.worst.costMicroseconds;
      delete clip.mean.costMicroseconds;
    }
    expect(one).deep.equal(other);
    expect(one!.clips.map(({ name, frames }) => [name, frames])).deep.equal([
      ['run', 42],
      ['run to walk at 0.30 s in 0.20 s', 90],
    ]);
    expect([stored.status, shipped.status]).deep.equal(one!.passes ? [0, 0] : [1, 1]);

    // It stands in the history, of the state as it is; one that is to leave no trace does not.
    await run(['trial', 'Saltreed/Ferry pilot', '--clip', 'run', '--unkept'], environment);
    const orm = await createOrm(url);
    const [kept, ...others] = await orm.em.fork().find(Trial, {});
    expect(others).deep.equal([]);
    expect(kept).include({ caseCount: 2, title: '1 clip and 1 blend, 2 runs, from the command line' });
    const [listed] = await new TrialService(orm.em.fork()).list(kept!.character.id);
    expect(listed).include({ fits: true, broken: one!.clips.filter(({ passes }) => !passes).length });
    await orm.close();

    const { worst } = one!.clips[0]!;
    const limits = { stretchPercent: worst.stretchPercent! / 2, garments: { Poncho: {} } };
    const none = {
      jitterMillimetres: null,
      penetrationMillimetres: null,
      showThroughSquareCentimetres: null,
    };
    writeFileSync(join(folder, 'strict.json'), JSON.stringify({ ...none, ...limits }));
    writeFileSync(join(folder, 'none.json'), JSON.stringify({ ...none, stretchPercent: null }));
    const strict = ['trial', 'pilot.glb', '--clip', 'run', '--limits', 'strict.json', '--junit', 'junit.xml'];
    const broken = await run(strict);
    expect(broken.status).equal(1);
    expect(broken.stdout).match(/breaks {2}run: .*stretch [\d.]+ %/);
    expect(broken.stdout).contain('1 of 1 break a limit');
    const xml = readFileSync(join(folder, 'junit.xml'), 'utf8');
    expect(xml).contain('<testsuite name="pilot.glb" tests="1" failures="1"');
    expect(xml).match(/<failure message="[^"]*stretchPercent [\d.]+ over [\d.]+ at [\d.]+ s"/);
    const passed = await run(['trial', 'pilot.glb', '--clip', 'run', '--limits', 'none.json']);
    expect([passed.status, passed.stderr]).deep.equal([0, '']);
    expect(passed.stdout).contain('passes  run').contain('all 1 pass');
  });

  it('trial: refuses what it cannot play, in words', async () => {
    const refuse = async (...args: string[]): Promise<string> => {
      const { status, stderr } = await run(['trial', ...args]);
      expect(status).equal(2);
      return stderr;
    };
    writeFileSync(join(folder, 'bad.json'), '{"penetration": 5}');
    writeFileSync(join(folder, 'nobody.json'), '{"garments": {"Cape": {"jitterMillimetres": 1}}}');
    expect(await refuse()).contain('name one character');
    expect(await refuse(strip)).contain('has no garments');
    expect(await refuse('pilot.glb', '--clip', 'swim')).contain('there is no clip "swim"; there are');
    expect(await refuse('pilot.glb', '--rate', '59')).contain('there are 60, 30, 120, uneven');
    expect(await refuse('pilot.glb', '--wind', 'storm')).contain('there are set, still, strong');
    expect(await refuse('pilot.glb', '--shape', 'tall')).contain('no morph targets');
    expect(await refuse('pilot.glb', '--blend', 'run,walk')).contain('FROM,TO,AT,LENGTH');
    expect(await refuse('pilot.glb', '--blend', 'run,walk,9,0.2')).contain('"run" is only');
    expect(await refuse('pilot.glb', '--all', '--rate', '30')).contain('leave --rate');
    expect(await refuse('pilot.glb', '--threads', '0')).contain('a number from 1 to 256');
    expect(await refuse('pilot.glb', '--limits', 'missing.json')).contain('missing.json');
    expect(await refuse('pilot.glb', '--limits', 'bad.json')).contain('"penetration" is no limit; there are');
    expect(await refuse('pilot.glb', '--limits', 'nobody.json')).contain(
      '"Cape"; there are Sash tail, Poncho',
    );
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
