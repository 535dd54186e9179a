import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { findChannel, listGarments } from '../../core/document/index.ts';
import { weldPoints } from '../../core/mesh/index.ts';
import { createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import { validateGlb } from '../../formats/gltf/validate-glb.ts';
import {
  getGltfIo,
  IntakeError,
  packGrey,
  type ReadCharacter,
  readCharacter,
  readMapPng,
  writeCharacter,
} from '../../formats/index.ts';
import { command } from '../commands/map.ts';
import { UsageError } from '../usage-error.ts';
import { readRange } from './read-range.ts';

interface Told {
  status: number;
  out: string;
  errors: string;
}

/** Runs a command in this process and catches what it prints. */
async function run(...args: string[]): Promise<Told> {
  const { log } = console;
  const told = { out: '', errors: '' };
  console.log = (line: string) => {
    told.out += `${line}\n`;
  };
  try {
    const status = await command.run(args);
    return { status, ...told };
  } catch (error) {
    if (!(error instanceof UsageError || error instanceof IntakeError)) throw error;
    return { ...told, status: 2, errors: error.message };
  } finally {
    console.log = log;
  }
}

describe('map commands', () => {
  const folder = mkdtempSync(join(tmpdir(), 'cobweb-map-'));
  const at = (name: string): string => join(folder, name);
  const SKIRT = ['--section', 'Skirt'];
  const read = (name: string): Promise<ReadCharacter> =>
    readCharacter([{ name, bytes: readFileSync(at(name)) }]);
  const valuesOf = ({ authored }: ReadCharacter, kind: 'maxDistance' | 'stiffness'): Float32Array =>
    authored!.arrays.get(findChannel(authored!, listGarments(authored!)[0]!.id, kind)!.id)!;

  before(async () => {
    const io = await getGltfIo();
    writeFileSync(at('plain.glb'), await io.writeBinary(writeCharacter(createWardrobe())));
    // Rises from black at the top to white at the bottom.
    const levels = Uint16Array.from({ length: 256 * 256 }, (_, i) => {
      const row = Math.floor(i / 256);
      return row < 16 ? 0 : Math.round((65535 * row) / 255);
    });
    writeFileSync(at('rise.png'), packGrey(256, 16, levels));
  });
  after(() => rmSync(folder, { recursive: true }));

  it('make a plain file a garment with what the image says, which ships valid', async () => {
    const args = [at('plain.glb'), at('rise.png'), ...SKIRT, '--channel', 'max distance'];
    const { status, out } = await run('import', ...args, '--range', '60', '-o', at('skirt.glb'));
    expect(status).equal(0);
    expect(out).match(/skirt\.glb: \d+ of \d+ vertices changed, \d+ at 0/);
    expect((await validateGlb(new Uint8Array(readFileSync(at('skirt.glb'))))).errors).equal(0);
    const source = await read('skirt.glb');
    const section = source.character.sections.find(({ name }) => name === 'Skirt')!;
    const { vertexOfPoint } = weldPoints(section.positions);
    const values = valuesOf(source, 'maxDistance');
    vertexOfPoint.forEach((vertex, point) => {
      const v = section.uvs![2 * vertex + 1]!;
      if (v < 0.055) expect(values[point]).equal(0);
      else if (v > 0.08 && v < 0.99) expect(values[point]).closeTo((0.6 * (256 * v - 0.5)) / 255, 1e-4);
    });
  });

  it('write a map that another reader takes, and that comes back to the same points', async () => {
    const args = [at('skirt.glb'), ...SKIRT, '--channel', 'maxDistance'];
    const { status, out } = await run(
      'export',
      ...args,
      '--size',
      '512',
      '--layout',
      at('layout.png'),
      '-o',
      at('out.png'),
    );
    expect(status).equal(0);
    expect(out).match(/black 0, white 60 cm\nreads back within 0\.\d\d grey steps, [01]\.\d\d at seams/);
    const image = readMapPng(new Uint8Array(readFileSync(at('out.png'))), 'out.png');
    expect(image).include({ width: 512, height: 512, depth: 16 });
    expect(image.range).deep.equal({ channel: 'maxDistance', low: 0, high: 0.6 });
    expect(readMapPng(new Uint8Array(readFileSync(at('layout.png'))), 'l').width).equal(512);
    const back = await run(
      'import',
      at('plain.glb'),
      at('out.png'),
      ...SKIRT,
      '--channel',
      'maxDistance',
      '-o',
      at('back.glb'),
    );
    expect(back.status).equal(0);
    const [before, after] = [
      valuesOf(await read('skirt.glb'), 'maxDistance'),
      valuesOf(await read('back.glb'), 'maxDistance'),
    ];
    after.forEach((value, point) => {
      expect(value).closeTo(before[point]!, (2 * 0.6) / 65535);
    });
  });

  it('add another channel beside, and leave the first alone', async () => {
    const { status, out } = await run(
      ...['import', at('skirt.glb'), at('rise.png'), ...SKIRT, '--channel', 'Stiffness scale'],
      ...['--range', '1..4', '--soften', '2', '--json', '-o', at('stiff.glb')],
    );
    expect(status).equal(0);
    expect(JSON.parse(out)).include({ channel: 'stiffness', atZero: 0 });
    const [before, after] = [await read('skirt.glb'), await read('stiff.glb')];
    expect(valuesOf(after, 'maxDistance')).deep.equal(valuesOf(before, 'maxDistance'));
    const scales = valuesOf(after, 'stiffness');
    expect(Math.min(...scales)).within(1, 1.2);
    expect(Math.max(...scales)).within(3.7, 4);
    const told = await run(
      'export',
      at('stiff.glb'),
      ...SKIRT,
      '--channel',
      'stiffness',
      '--depth',
      '8',
      '--json',
      '-o',
      at('s.png'),
    );
    expect(JSON.parse(told.out)).include({ high: 4, depth: 8, cutOff: 0 });
  });

  it('say what is missing or wrong, in one line, and write nothing', async () => {
    const plain = [at('plain.glb'), ...SKIRT];
    const image = [at('plain.glb'), at('rise.png'), ...SKIRT];
    const out = ['-o', at('never.glb')];
    const cases: [string[], RegExp][] = [
      [[], /say export or import/],
      [['export', ...plain, '--channel', 'drag', ...out], /has no map of drag; it has maxDistance/],
      [
        ['export', ...plain, '--channel', 'colour', ...out],
        /no channel "colour"; there are maxDistance, inwardLimit/,
      ],
      [['export', at('plain.glb'), '--section', 'hat', '--channel', 'drag', ...out], /hat/],
      [
        ['export', ...plain, '--channel', 'drag', '--size', '7', ...out],
        /--size is a whole number of texels/,
      ],
      [['import', ...image, '--channel', 'drag', ...out], /does not say what white stands for: give --range/],
      [['import', ...image, '--channel', 'drag', '--range', '4..2', ...out], /low below high; it is "4..2"/],
      [
        ['import', ...image, '--channel', 'drag', '--range', '2', '--take', 'red', ...out],
        /no channel "red"; it has grey/,
      ],
      [
        ['import', at('plain.glb'), at('plain.glb'), ...SKIRT, '--channel', 'drag', '--range', '2', ...out],
        /not a PNG image/,
      ],
      [['import', at('plain.glb'), at('gone.png'), ...SKIRT, '--channel', 'drag', ...out], /no such file/],
    ];
    for (const [args, message] of cases) {
      const { status, errors } = await run(...args);
      expect(status, errors).equal(2);
      expect(errors).match(message);
      // A missing section is followed by a list of those that there are.
      if (!args.includes('hat')) expect(errors.trim().split('\n')).length(1);
    }
    expect(() => readFileSync(at('never.glb'))).throw();
  });

  it('read ranges in the unit of the channel', () => {
    expect(readRange('60', 'maxDistance')).deep.equal({ low: 0, high: 0.6 });
    expect(readRange('-5..25', 'maxDistance')).deep.equal({ low: -0.05, high: 0.25 });
    expect(readRange('0.5..2', 'drag')).deep.equal({ low: 0.5, high: 2 });
    for (const bad of ['', '..', '2..', 'x', '1..2..3', 'Infinity'])
      expect(() => readRange(bad, 'drag')).throw('--range is');
  });
});
