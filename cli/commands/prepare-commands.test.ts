import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { expect } from 'chai';
import { createSkirt, createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import { bindSection, toDenseWeights } from '../../core/rig/index.ts';
import { validateGlb } from '../../formats/gltf/validate-glb.ts';
import { getGltfIo, readCharacter, writeCharacter, writeObj } from '../../formats/index.ts';
import { findProjectRoot } from '../../server/project-root.ts';

describe('commands that prepare garments', function () {
  this.timeout(240_000);
  const root = findProjectRoot();
  const folder = mkdtempSync(join(tmpdir(), 'cobweb-prepare-'));

  const run = (...args: string[]) => {
    const loader = pathToFileURL(join(root, 'node_modules/tsx/dist/loader.mjs')).href;
    const { status, stdout, stderr } = spawnSync(
      process.execPath,
      ['--import', loader, join(root, 'cli/main.ts'), ...args],
      { cwd: folder, encoding: 'utf8', env: { ...process.env, NODE_NO_WARNINGS: '1' } },
    );
    return { status, stdout, stderr };
  };
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

  it('check: exit 1 with what is severe, 0 without, and what there is when a section is not', () => {
    const torn = run('check', 'torn.glb', '--section', 'Skirt', '--json');
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
    const sound = run('check', 'sound.glb');
    expect(sound.status).equal(0);
    expect(sound.stdout).contain('Leg:').contain('There are no UVs');
    expect(run('check', 'sound.glb', '--section', 'Cape')).include({
      status: 2,
      stderr: 'cobweb check: there is no section "Cape". There are:\n  Leg\n  Skirt\n',
    });
  });

  it('remesh: the figures, a skinned GLB, and an OBJ of the same places', async () => {
    const made = run(
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
      run('remesh', 'sound.glb', '--section', 'Skirt', '--edge', '4', '--border', '60', '-o', 'skirt-sim.obj')
        .stdout,
    ).match(/points +\d+\ntriangles +\d+\nspacing +[34]\.\d\d cm/);
    const obj = await read('skirt-sim.obj');
    expect(obj.sections[0]!.positions.length / 3).equal(figures.points);
    expect(run('remesh', 'sound.glb', '--section', 'Skirt', '--edge', 'wide', '-o', 'x.glb').stderr).contain(
      '--edge must be a number from 0.1 to 100; it is "wide"',
    );
    expect(run('remesh', 'sound.glb', '--section', 'Skirt', '--edge', '4', '-o', 'x.fbx').status).equal(2);
  });

  it('transfer: an unskinned garment takes over weights and morphs of the body', async () => {
    const made = run('transfer', 'sound.glb', 'skirt.obj', '-o', 'dressed.glb', '--json');
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
    expect(run('transfer', 'skirt.obj', 'skirt.obj', '-o', 'x.glb').stderr).contain('no skinned body');
  });
});
