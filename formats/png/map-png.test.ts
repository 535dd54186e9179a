import { expect } from 'chai';
import { encode } from 'fast-png';
import { PNG } from 'pngjs';
import type { MapImage } from '../../core/reach/index.ts';
import { IntakeError } from '../intake-error.ts';
import { packMapPng, readMapPng } from './map-png.ts';
import { computeCheckSum } from './open-png.ts';
import { packTestPng, type TestPng } from './test-png.ts';

const SIZE = 32;

function createImage(depth: 8 | 16): MapImage {
  const most = 2 ** depth - 1;
  const fill = (_: unknown, i: number): number => (i * 977) % (most + 1);
  const levels =
    depth === 8
      ? Uint8Array.from({ length: SIZE * SIZE }, fill)
      : Uint16Array.from({ length: SIZE * SIZE }, fill);
  return { size: SIZE, depth, levels, worst: { away: 0, atSeams: 0 }, cutOff: 0 };
}

type Form = Pick<TestPng, 'kind' | 'depth' | 'sample' | 'filter' | 'palette' | 'alphas'>;
const FORMS: readonly (readonly [TestPng['kind'], readonly TestPng['depth'][]])[] = [
  [0, [1, 2, 4, 8, 16]],
  [2, [8, 16]],
  [3, [1, 2, 4, 8]],
  [4, [8, 16]],
  [6, [8, 16]],
];
/** Less than a pass of an interlaced one, no multiple of anything, several bytes. */
const SIZES = [
  [1, 1],
  [3, 5],
  [13, 9],
  [33, 17],
] as const;

/** Levels all over the place; every filter in turn. */
function createForm(kind: TestPng['kind'], depth: TestPng['depth'], seed: number): Form {
  const most = 2 ** depth - 1;
  const colors = kind === 3 ? Math.min(2 ** depth, 50) : most + 1;
  return {
    kind,
    depth,
    sample: (x, y, part) => ((x + 1) * 7919 + (y + 1) * 104729 + part * 15485 + seed) % colors,
    filter: (row) => (row + seed) % 5,
    ...(kind === 3 && {
      palette: Array.from({ length: 3 * colors }, (_, i) => (i * 83) % 256),
      alphas: [0, 90],
    }),
  };
}

const RANGE = { channel: 'maxDistance', low: 0, high: 0.6 } as const;

describe('PNG images of maps', () => {
  for (const depth of [8, 16] as const) {
    it(`hold ${depth} bits and say what black and white stand for`, () => {
      const image = createImage(depth);
      const read = readMapPng(packMapPng(image, RANGE), 'map.png');
      expect(read).include({ width: SIZE, height: SIZE, depth });
      expect(read.range).deep.equal(RANGE);
      expect(read.channels).deep.equal(['grey']);
      const { levels, step } = read.pick('grey');
      expect(step).equal(1 / (2 ** depth - 1));
      levels.forEach((level, i) => {
        expect(Math.round(level / step)).equal(image.levels[i]);
      });
    });
  }

  it('are read by another decoder as they were meant', () => {
    const image = createImage(8);
    const png = PNG.sync.read(Buffer.from(packMapPng(image, RANGE)));
    expect([png.width, png.height]).deep.equal([SIZE, SIZE]);
    for (let i = 0; i < SIZE * SIZE; i++) expect(png.data[4 * i]).equal(image.levels[i]);
  });

  it('of colours give each channel, and grey as luma', () => {
    const data = Uint8Array.of(255, 0, 0, 128, 0, 255, 0, 255, 0, 0, 255, 0, 255, 255, 255, 255);
    const read = readMapPng(encode({ width: 2, height: 2, data, channels: 4 }), 'colours.png');
    expect(read.channels).deep.equal(['grey', 'red', 'green', 'blue', 'alpha']);
    expect([...read.pick('red').levels]).deep.equal([1, 0, 0, 1]);
    expect([...read.pick('alpha').levels].map((level) => Number(level.toFixed(2)))).deep.equal([
      0.5, 1, 0, 1,
    ]);
    expect([...read.pick('grey').levels].map((level) => Number(level.toFixed(3)))).deep.equal([
      0.213, 0.715, 0.072, 1,
    ]);
    expect(read.range).equal(null);
  });

  it('of a palette, or of less than 8 bits, are read all the same', () => {
    const palette = [
      [0, 0, 0],
      [255, 255, 255],
      [128, 128, 128],
    ];
    const indexed = encode({ width: 3, height: 1, data: Uint8Array.of(0, 2, 1), channels: 1, palette });
    const levels = [...readMapPng(indexed, 'palette.png').pick('grey').levels];
    expect(levels.map((level) => Number(level.toFixed(2)))).deep.equal([0, 0.5, 1]);
    // 10 columns of 2 bits: three bytes a row.
    const data = Uint8Array.of(0b00011011, 0b00011011, 0b00010000, 0xff, 0xff, 0xf0);
    const narrow = encode({ width: 10, height: 2, data, depth: 2, channels: 1 });
    const thirds = [...readMapPng(narrow, 'narrow.png').pick('grey').levels].map((level) =>
      Math.round(3 * level),
    );
    expect(thirds).deep.equal([0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 3, 3, 3, 3, 3, 3, 3, 3, 3, 3]);
  });

  it('that are damaged, cut short or no PNG are refused with what to do', () => {
    const bytes = packMapPng(createImage(8), RANGE);
    const broken = bytes.slice();
    broken[200] = broken[200]! ^ 0x55;
    const huge = bytes.slice();
    new DataView(huge.buffer).setUint32(16, 0x7fffffff);
    for (const [name, damaged, found] of [
      ['text', new TextEncoder().encode('not an image at all, but long enough'), 'It is not a PNG image.'],
      ['empty', new Uint8Array(0), 'It is not a PNG image.'],
      ['broken', broken, 'It is damaged'],
      ['short', bytes.slice(0, bytes.length / 2), 'It is damaged'],
      ['huge', huge, 'It has 2,147,483,647 by 32 picture elements in 1 MB, too much to read.'],
    ] as const) {
      expect(() => readMapPng(damaged, 'x.png'), name)
        .throw(IntakeError, found)
        .with.property('remedy')
        .match(name === 'huge' ? /^Scale it down to 8,192 by 8,192/ : /Save the image as PNG again/);
    }
  });

  for (const isInterlaced of [false, true]) {
    for (const [kind, depths] of FORMS) {
      it(`of kind ${kind}${isInterlaced ? ', interlaced,' : ''} at ${depths.join(', ')} bits are what another decoder reads`, () => {
        for (const depth of depths) {
          for (const [width, height] of SIZES) {
            const png = { ...createForm(kind, depth, width), width, height, isInterlaced };
            const bytes = packTestPng(png);
            const other = PNG.sync.read(Buffer.from(bytes), { skipRescale: depth === 16 });
            const read = readMapPng(bytes, 'x.png');
            const most = depth === 16 ? 65535 : 255;
            const parts = ['red', 'green', 'blue', 'alpha'] as const;
            for (const part of read.channels) {
              if (part === 'grey' && read.channels.length > 2) continue;
              const place = part === 'grey' ? 0 : parts.indexOf(part);
              const { levels } = read.pick(part);
              const differ = levels.findIndex(
                (level, i) => Math.abs(level - other.data[4 * i + place]! / most) > 1 / 254 / 2,
              );
              expect(differ, `${part} of ${width} by ${height} at ${depth} bits`).equal(-1);
            }
          }
        }
      });
    }
  }

  it('whose rows are short, of no filter or of no colour of the palette, or whose sum is another, are damaged', () => {
    const form = { ...createForm(3, 8, 4), width: 4, height: 4, isInterlaced: false };
    const good = packTestPng(form);
    const cut = good.slice();
    new DataView(cut.buffer).setUint32(20, 9);
    new DataView(cut.buffer).setUint32(29, computeCheckSum(cut.subarray(12, 29)));
    for (const [bytes, found] of [
      [packTestPng({ ...form, filter: () => 7 }), 'there is no filter 7'],
      [packTestPng({ ...form, sample: () => 200 }), 'its palette has no colour 200'],
      [packTestPng({ ...form, palette: undefined! }), 'it lacks its palette'],
      [cut, 'it ends before its last row'],
      [good.map((byte, i) => (i === 45 ? byte ^ 1 : byte)), 'the sum of its part "PLTE" is another'],
      [good.subarray(0, 20), 'it ends within its header'],
      [good.subarray(0, good.length - 20), 'it ends too early'],
    ] as const) {
      expect(() => readMapPng(bytes, 'x.png'), found).throw(IntakeError, found);
    }
  });

  it('with a range that makes no sense are read as saying none', () => {
    for (const text of ['{', '{"channel":"other","low":0,"high":1}', '{"channel":"drag","low":1,"high":1}']) {
      const data = Uint8Array.of(7);
      const bytes = encode({ width: 1, height: 1, data, channels: 1, text: { COBWEB_map: text } });
      expect(readMapPng(bytes, 'x.png').range).equal(null);
    }
  });
});
