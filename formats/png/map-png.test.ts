import { expect } from 'chai';
import { encode } from 'fast-png';
import { PNG } from 'pngjs';
import type { MapImage } from '../../core/reach/index.ts';
import { IntakeError } from '../intake-error.ts';
import { packMapPng, readMapPng } from './map-png.ts';

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
      ['huge', huge, 'too many to read'],
    ] as const) {
      expect(() => readMapPng(damaged, 'x.png'), name)
        .throw(IntakeError, found)
        .with.property('remedy')
        .match(/Save the image as PNG again/);
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
