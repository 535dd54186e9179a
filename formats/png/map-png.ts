import { encode } from 'fast-png';
import { CHANNEL_KINDS, type ChannelKind, type GreyImage, type MapImage } from '../../core/reach/index.ts';
import { IntakeError } from '../intake-error.ts';
import { isPng, type OpenPng, openPng, PngFault, readPngSize } from './open-png.ts';
import { unpackRows } from './unpack-rows.ts';

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

/** More picture elements than a map can use: 8,192 by 8,192. */
const MOST_TEXELS = 8192 * 8192;

/** More bytes than such a picture takes when nothing of it can be packed. */
const MOST_BYTES = 640e6;
/** Of a file, so many first bytes tell how large its picture is. */
export const PNG_HEAD_BYTES = 64;

const AGAIN = 'Save the image as PNG again, grey or RGB, with 8 or 16 bits.';

/**
 * Whether a file can be read as a picture of a map, before the whole of it is.
 *
 * @param head - At least its first `PNG_HEAD_BYTES` bytes, or all. @throws {IntakeError} When it is no PNG, or too large.
 */
export function checkMapPng(head: Uint8Array, size: number, file: string): void {
  if (!isPng(head)) throw new IntakeError('unreadable', file, '', 'It is not a PNG image.', AGAIN);
  const [width, height] = tellFaults(file, () => readPngSize(head));
  if (width * height <= MOST_TEXELS && size <= MOST_BYTES) return;
  const sides = [width, height].map((side) => side.toLocaleString('en')).join(' by ');
  throw new IntakeError(
    'unreadable',
    file,
    '',
    `It has ${sides} picture elements in ${Math.ceil(size / 1e6).toLocaleString('en')} MB, too much to read.`,
    'Scale it down to 8,192 by 8,192 picture elements or less.',
  );
}

/** @throws {IntakeError} In place of what is wrong with the bytes. */
function tellFaults<T>(file: string, act: () => T): T {
  try {
    return act();
  } catch (error) {
    if (!(error instanceof PngFault)) throw error;
    throw new IntakeError('unreadable', file, '', `It ${error.message}.`, AGAIN);
  }
}

/**
 * Looks a picture through; what is picked of it is unpacked row by row, so that little more than the bytes and one channel
 * is held at a time.
 *
 * @throws {IntakeError} When the bytes are no whole PNG, or too large.
 */
export function readMapPng(bytes: Uint8Array, file: string): ReadImage {
  checkMapPng(bytes, bytes.length, file);
  const png = tellFaults(file, () => openPng(bytes));
  const names = LAYOUTS[png.palette?.channels ?? png.samples]!;
  const pick = (channel: ImageChannel): GreyImage => pickChannel(png, names, channel);
  let picked: { channel: ImageChannel; image: GreyImage } | null = {
    channel: 'grey',
    image: tellFaults(file, () => pick('grey')),
  };
  return {
    width: png.width,
    height: png.height,
    depth: png.depth,
    channels: names.includes('grey') ? names : ['grey', ...names],
    range: parseRange(png.text[MAP_KEYWORD]),
    pick: (channel) => {
      if (picked?.channel === channel) return picked.image;
      picked = null;
      picked = { channel, image: pick(channel) };
      return picked.image;
    },
  };
}

const LAYOUTS: Readonly<Record<number, readonly ImageChannel[]>> = {
  1: ['grey'],
  2: ['grey', 'alpha'],
  3: ['red', 'green', 'blue'],
  4: ['red', 'green', 'blue', 'alpha'],
};

/** Parts of red, green and blue in the luma of a colour (BT.709). */
const LUMA = [0.2126, 0.7152, 0.0722] as const;

/** @throws {PngFault} */
function pickChannel(png: OpenPng, names: readonly ImageChannel[], channel: ImageChannel): GreyImage {
  const { width, height, palette } = png;
  const levels = new Float32Array(width * height);
  const most = 2 ** (palette ? 8 : png.depth) - 1;
  const place = names.indexOf(channel);
  // What stands where the channel, or the first of three, is found.
  const readAt = (values: ArrayLike<number>, from: number): number =>
    place >= 0
      ? values[from + place]!
      : LUMA[0] * values[from]! + LUMA[1] * values[from + 1]! + LUMA[2] * values[from + 2]!;
  const levelOfColor = palette && listLevels(palette, readAt);
  unpackRows(png, (samples, y, x, across) => {
    const columns = samples.length / png.samples;
    for (let i = 0; i < columns; i++) {
      const level = levelOfColor ? levelOfColor[samples[i]!] : readAt(samples, png.samples * i);
      if (level === undefined) throw new PngFault(`is damaged: its palette has no colour ${samples[i]}`);
      levels[y * width + x + across * i] = level / most;
    }
  });
  return { width, height, levels, step: 1 / most };
}

function listLevels(
  { colors, channels }: NonNullable<OpenPng['palette']>,
  readAt: (values: ArrayLike<number>, from: number) => number,
): number[] {
  return Array.from({ length: colors.length / channels }, (_, i) => readAt(colors, channels * i));
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
