import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { createSleeve, createTwoSided } from '../../core/mesh/test-ugly.ts';
import { createSkirt, createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import { bindSection, toDenseWeights } from '../../core/rig/index.ts';
import { validateGlb } from '../../formats/gltf/validate-glb.ts';
import { getGltfIo, readCharacter, writeCharacter, writeObj } from '../../formats/index.ts';
import { runHere } from '../test-command.ts';

describe('commands that prepare garments', function () {
  this.timeout(240_000);
  const folder = mkdtempSync(join(tmpdir(), 'cobweb-prepare-'));

  const run = (...args: string[]) => runHere(folder, args);
  const read = async (name: string) =>
    (await readCharacter([{ name, bytes: readFileSync(join(folder, name)) }])).character;

  before(async () => {
    const io = await getGltfIo();
    const sound = createWardrobe();
    sound.sections[0]!.morphs = [
      {
        name: 'stout',
        positions: sound.sections[0]!.positions.map((value, i) => (i % 3 === 1 ? 0 : 0.3 * value)),
        normals: null,
      },
    ];
    sound.sections[0]!.morphWeights = Float32Array.of(0);
    writeFileSync(join(folder, 'sound.glb'), await io.writeBinary(writeCharacter(sound)));
    const skirt = createSkirt();
    for (let v = 40; v < skirt.positions.length / 3; v += 41)
      skirt.positions[3 * v] = skirt.positions[3 * v]! + 0.0006;
    writeFileSync(join(folder, 'torn.glb'), await io.writeBinary(writeCharacter(createWardrobe(skirt))));
    writeFileSync(join(folder, 'skirt.obj'), writeObj('loose skirt', createSkirt()));
  });
  after(() => rmSync(folder, { recursive: true }));

  it('check: exit 1 with what is severe, 0 without, and what there is when a section is not', async () => {
    const torn = await run('check', 'torn.glb', '--section', 'Skirt', '--json');
    expect(torn.status).equal(1);
    const told = JSON.parse(torn.stdout) as {
      sections: { name: string; findings: { kind: string; fix: string }[] }[];
      severe: number;
    };
    expect(told.severe).equal(1);
    expect(told.sections.map(({ name }) => name)).deep.equal(['Skirt']);
    expect(told.sections[0]!.findings[0]).include({
      kind: 'unweldedSeam',
      severity: 'severe',
      count: 25,
      limit: 0,
      fix: 'weld',
    });
    const sound = await run('check', 'sound.glb');
    expect(sound.status).equal(0);
    expect(sound.stdout).contain('Leg:').contain('There are no UVs');
    const strict = await run(
      'check',
      'sound.glb',
      '--limit',
      'sliverAngle=60',
      '--limit',
      'severeSliverAngle=59',
    );
    expect(strict.stdout).contain('limit 59 ° smallest angle');
    expect(strict.status).equal(1);
    for (const [limit, reason] of [
      ['angle=3', 'there is no limit "angle"; there are sliverAngle,'],
      ['sliverAngle', 'sliverAngle is a number from 0 to 60; it is "".'],
      ['sliverAngle=75', 'sliverAngle is a number from 0 to 60; it is "75".'],
    ]) {
      const refused = await run('check', 'sound.glb', '--limit', limit!);
      expect(refused.status).equal(2);
      expect(refused.stderr).contain(reason!);
    }
    expect(await run('check', 'sound.glb', '--section', 'Cape')).include({
      status: 2,
      stderr: 'cobweb check: there is no section "Cape". There are:\n  Leg\n  Skirt\n',
    });
  });

  it('remesh: the figures, a skinned GLB, and an OBJ of the same places', async () => {
    const made = await run(
      'remesh',
      'sound.glb',
      '--section',
      'Skirt',
      '--edge',
      '4',
      '--border',
      '60',
      '-o',
      'skirt-sim.glb',
      '--json',
    );
    expect(made.stderr).equal('');
    const figures = JSON.parse(made.stdout) as {
      points: number;
      withinTarget: number;
      borderDeviation: number;
    };
    expect(figures.withinTarget).above(0.95);
    expect(figures.borderDeviation).within(0.00001, 0.006);
    const sim = await read('skirt-sim.glb');
    expect(sim.sections.length).equal(1);
    expect(sim.clips.map(({ name }) => name)).deep.equal(['bow']);
    expect(await validateGlb(readFileSync(join(folder, 'skirt-sim.glb')))).include({
      errors: 0,
      warnings: 0,
    });
    expect(
      (
        await run(
          'remesh',
          'sound.glb',
          '--section',
          'Skirt',
          '--edge',
          '4',
          '--border',
          '60',
          '-o',
          'skirt-sim.obj',
        )
      ).stdout,
    ).match(/vertices +\d+\ntriangles +\d+\nspacing +[34]\.\d\d cm/);
    const obj = await read('skirt-sim.obj');
    expect(obj.sections[0]!.positions.length / 3).equal(figures.points);
    expect(
      (await run('remesh', 'sound.glb', '--section', 'Skirt', '--edge', 'wide', '-o', 'x.glb')).stderr,
    ).contain('--edge must be a number from 0.001 to 100000; it is "wide"');
    expect(
      (await run('remesh', 'sound.glb', '--section', 'Skirt', '--edge', '4', '-o', 'x.fbx')).status,
    ).equal(2);
  });

  it('remesh: says what it lost, and exits with 1; keeps tubes whole; needs no name where there is one section', async () => {
    writeFileSync(join(folder, 'sleeve.obj'), writeObj('Sleeve', createSleeve(8, 0.05, 0.4)));
    const sleeve = await run('remesh', 'sleeve.obj', '--edge', '2', '-o', 'sleeve-sim.obj', '--json');
    expect(sleeve.stderr).equal('');
    expect(sleeve.status).equal(0);
    const told = JSON.parse(sleeve.stdout) as {
      loops: object;
      area: { made: number; source: number };
      sides: string;
      turned: number;
    };
    expect(told).deep.include({ loops: { made: 2, source: 2 }, sides: 'one', turned: 0 });
    expect(told.area.made / told.area.source).within(0.98, 1.01);
    writeFileSync(
      join(folder, 'limb.obj'),
      writeObj('Limb', createSleeve(12, 0.05, 0.4, { isClosed: true })),
    );
    const limb = await run('remesh', 'limb.obj', '--edge', '12', '-o', 'limb-sim.obj');
    expect(limb.status).equal(1);
    expect(limb.stderr).match(/^Limb: Its volume is \d+ % less than the source's/);
    expect(limb.stdout).match(/volume +\d+\.\d % of the source's/);
  });

  it('remesh: keeps one side where it is certain that there are two, and as it is told', async () => {
    writeFileSync(join(folder, 'coat.obj'), writeObj('Coat', createTwoSided(12, 12, 0.02, true)));
    const area = async (...more: string[]): Promise<{ area: number; sides: string }> => {
      const { stdout, stderr } = await run(
        'remesh',
        'coat.obj',
        '--edge',
        '8',
        '-o',
        'coat-sim.obj',
        '--json',
        ...more,
      );
      expect(stderr).equal('');
      const told = JSON.parse(stdout) as { area: { made: number }; sides: string };
      return { area: told.area.made, sides: told.sides };
    };
    const [judged, both] = [await area(), await area('--sides', 'both')];
    expect(judged.sides).contain('two; the outer was kept');
    expect(both.area / judged.area).within(1.8, 2.3);
    expect(await run('remesh', 'coat.obj', '--edge', '8', '-o', 'x.obj', '--sides', 'left')).include({
      status: 2,
    });
  });

  it('remesh: refuses what takes too long with an edge that fits, what is longer than all, and what cannot be written', async () => {
    const fine = await run('remesh', 'coat.obj', '--edge', '0.05', '-o', 'x.obj');
    expect(fine.status).equal(2);
    const [, proposed] = /Take ([\d.]+) cm or more\. Or use --force\./.exec(fine.stderr)!;
    expect(Number(proposed)).within(0.2, 0.5);
    expect(fine.stderr).match(/about \d+ minutes/);
    expect((await run('remesh', 'coat.obj', '--edge', '500', '-o', 'x.obj')).stderr).contain(
      'cm from corner to corner',
    );
    expect((await run('remesh', 'sound.glb', '--edge', '5', '-o', 'x.obj')).stderr).contain(
      'name one with --section. There are:\n  Leg',
    );
    expect(await run('remesh', 'coat.obj', '--edge', '9', '-o', 'nowhere/x.obj')).include({
      status: 2,
      stderr: 'cobweb remesh: nowhere/x.obj: it cannot be written: there is no such folder.\n',
    });
    expect(await run('transfer', 'sound.glb', 'skirt.obj', '-o', '.')).include({ status: 2 });
  });

  it('transfer: refuses a garment in another unit or another place, and what cannot hold weights', async () => {
    const scaled = (factor: number, away = 0): void => {
      const { positions, triangles } = createSkirt();
      const moved = positions.map((value, i) => factor * value + (i % 3 === 0 ? away : 0));
      writeFileSync(join(folder, 'misplaced.obj'), writeObj('misplaced', { positions: moved, triangles }));
    };
    const refuse = async (): Promise<string> => {
      const { status, stderr } = await run('transfer', 'sound.glb', 'misplaced.obj', '-o', 'x.glb');
      expect(status).equal(2);
      return stderr;
    };
    scaled(100);
    expect(await refuse())
      .contain('misplaced: nothing of it is near the body')
      .and.contain('Scaled by 0.01 it would fit');
    scaled(1, 5);
    expect(await refuse()).match(/it lies \d+(\.\d+)? m away/);
    expect((await run('transfer', 'sound.glb', 'skirt.obj', '-o', 'x.obj')).stderr).contain(
      'must end in .glb',
    );
  });

  it('transfer: an unskinned garment takes over weights and morphs of the body', async () => {
    const made = await run('transfer', 'sound.glb', 'skirt.obj', '-o', 'dressed.glb', '--json');
    expect(made.stderr).equal('');
    const told = JSON.parse(made.stdout) as {
      sections: { matched: number; filled: number; farOff: number; morphs: number }[];
    };
    expect(told.sections[0]).include({ farOff: 0, morphs: 1 });
    expect(told.sections[0]!.matched).above(200);
    expect(told.sections[0]!.filled).above(200);
    expect(await validateGlb(readFileSync(join(folder, 'dressed.glb')))).include({ errors: 0, warnings: 0 });
    const dressed = await read('dressed.glb');
    const [skirt] = dressed.sections;
    const bind = bindSection(dressed, 0);
    const dense = toDenseWeights(skirt!, 2);
    for (let v = 0; v < 200; v++) expect(dense[2 * v + 1]).closeTo(-bind[3 * v + 1]! / 0.7, 0.05);
    // Where the skirt lies close it widens as the leg does: 30 % of a radius of 10 cm.
    const wide = bindSection({ ...dressed, sections: [{ ...skirt!, morphWeights: Float32Array.of(1) }] }, 0);
    for (let v = 0; v < 41; v++) {
      const radius = (p: Float32Array): number => Math.hypot(p[3 * v]!, p[3 * v + 2]!);
      expect(radius(wide) - radius(bind)).closeTo(0.03, 0.003);
    }
    expect((await run('transfer', 'skirt.obj', 'skirt.obj', '-o', 'x.glb')).stderr).contain(
      'no skinned body',
    );
  });
});
