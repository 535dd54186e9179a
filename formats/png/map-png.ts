import { convertIndexedToRgb, type DecodedPng, decode, encode, hasPngSignature } from 'fast-png';
import { CHANNEL_KINDS, type ChannelKind, type GreyImage, type MapImage } from '../../core/reach/index.ts';
import { IntakeError } from '../intake-error.ts';

/** Keyword of the `tEXt` chunk that says what black and white stand for. */
export const MAP_KEYWORD = 'COBWEB_map';

/** What the levels of a grey image stand for, as its chunk says it: metres, or plain factors. */
export interface MapRange {
  channel: ChannelKind;
  low: number;
  high: number;
}

/** A map's image as PNG, grey, with its range stated in it. */
export function packMapPng({ size, depth, levels }: MapImage, range: MapRange): Uint8Array {
  return packGrey(size, depth, levels, { [MAP_KEYWORD]: JSON.stringify(range) });
}

/** A grey picture as PNG. @param levels - [size, size] */
export function packGrey(
  size: number,
  depth: 8 | 16,
  levels: Uint8Array | Uint16Array,
  text: Record<string, string> = {},
): Uint8Array {
  return encode(
    { width: size, height: size, data: levels, depth, channels: 1, text },
    { zlib: { level: 6 } },
  );
}

export type ImageChannel = 'grey' | 'red' | 'green' | 'blue' | 'alpha';

/** A picture of any PNG form, to take one channel of. */
export interface ReadImage {
  width: number;
  height: number;
  depth: number;
  channels: readonly ImageChannel[];
  /** What it says itself; null when it says nothing. */
  range: MapRange | null;
  /** `grey` of a coloured picture is its luma. */
  pick(channel: ImageChannel): GreyImage;
}

/** More picture elements than a map can use. */
const MOST_TEXELS = 16384 * 16384;

/** @throws {IntakeError} When the bytes are no whole PNG. */
export function readMapPng(bytes: Uint8Array, file: string): ReadImage {
  const fail = (found: string): IntakeError =>
    new IntakeError(
      'unreadable',
      file,
      '',
      found,
      'Save the image as PNG again, grey or RGB, with 8 or 16 bits.',
    );
  if (!hasPngSignature(bytes)) throw fail('It is not a PNG image.');
  const [width, height] = readSize(bytes);
  if (width * height > MOST_TEXELS)
    throw fail(`It has ${width} by ${height} picture elements, too many to read.`);
  let png: DecodedPng;
  try {
    png = decode(bytes, { checkCrc: true });
  } catch (error) {
    throw fail(`It is damaged: ${error instanceof Error ? error.message : String(error)}.`);
  }
  const { data, width: w, height: h, depth, channels } = unpack(png);
  if (data.length < w * h * channels) throw fail('It ends before its last row.');
  const names = LAYOUTS[channels]!;
  return {
    width: w,
    height: h,
    depth: png.depth,
    channels: names.includes('grey') ? names : ['grey', ...names],
    range: parseRange(png.text[MAP_KEYWORD]),
    pick: (channel) => {
      const levels = new Float32Array(w * h);
      const most = 2 ** depth - 1;
      const at = names.indexOf(channel);
      for (let i = 0; i < levels.length; i++) {
        const o = channels * i;
        const level =
          at >= 0 ? data[o + at]! : 0.2126 * data[o]! + 0.7152 * data[o + 1]! + 0.0722 * data[o + 2]!;
        levels[i] = level / most;
      }
      return { width: w, height: h, levels, step: 1 / most };
    },
  };
}

const LAYOUTS: Readonly<Record<number, readonly ImageChannel[]>> = {
  1: ['grey'],
  2: ['grey', 'alpha'],
  3: ['red', 'green', 'blue'],
  4: ['red', 'green', 'blue', 'alpha'],
};

/** From the header, before anything is unpacked. */
function readSize(bytes: Uint8Array): [width: number, height: number] {
  if (bytes.length < 24) return [0, 0];
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return [view.getUint32(16), view.getUint32(20)];
}

interface Unpacked {
  data: Uint8Array | Uint8ClampedArray | Uint16Array;
  width: number;
  height: number;
  depth: number;
  channels: number;
}

/** One number for each channel of each picture element: palettes looked up, several to a byte taken apart. */
function unpack(png: DecodedPng): Unpacked {
  const { width, height } = png;
  if (png.palette) {
    const channels = png.palette[0]!.length;
    return { data: convertIndexedToRgb(png), width, height, depth: 8, channels };
  }
  if (png.depth >= 8) return { ...png, data: png.data };
  const perByte = 8 / png.depth;
  const rowBytes = Math.ceil(width / perByte);
  const data = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const byte = png.data[y * rowBytes + Math.floor(x / perByte)]!;
      data[y * width + x] = (byte >> (8 - png.depth * ((x % perByte) + 1))) & (2 ** png.depth - 1);
    }
  }
  return { data, width, height, depth: png.depth, channels: 1 };
}

/** What a chunk says, when it makes sense. */
function parseRange(text: string | undefined): MapRange | null {
  if (!text) return null;
  try {
    const { channel, low, high } = JSON.parse(text) as MapRange;
    const isFine =
      CHANNEL_KINDS.includes(channel) && Number.isFinite(low) && Number.isFinite(high) && high > low;
    return isFine ? { channel, low, high } : null;
  } catch {
    return null;
  }
}
