/** Of one colour type: how many numbers stand for a picture element in the file. */
const SAMPLES: Readonly<Record<number, number>> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 };
const DEPTHS: Readonly<Record<number, readonly number[]>> = {
  0: [1, 2, 4, 8, 16],
  2: [8, 16],
  3: [1, 2, 4, 8],
  4: [8, 16],
  6: [8, 16],
};
const SIGNATURE = [137, 80, 78, 71, 13, 10, 26, 10];

/** What is wrong with the bytes, to stand after "It ". */
export class PngFault extends Error {
  override readonly name = 'PngFault';
}

/** A PNG that was looked through but not unpacked. */
export interface OpenPng {
  width: number;
  height: number;
  /** Bits of a sample in the file. */
  depth: number;
  /** Samples of a picture element in the file. */
  samples: number;
  isInterlaced: boolean;
  /** Colours that the samples are numbers of, 3 or, with alpha, 4 values each of 0 to 255; null: samples are levels. */
  palette: { colors: Uint8Array; channels: 3 | 4 } | null;
  /** Packed rows, piece after piece. */
  packed: Uint8Array[];
  /** Words that the file carries, by keyword (`tEXt`). */
  text: Record<string, string>;
}

export function isPng(bytes: Uint8Array): boolean {
  return SIGNATURE.every((byte, i) => bytes[i] === byte);
}

/** Width and height as the header says, before anything else is looked at. @throws {PngFault} */
export function readPngSize(bytes: Uint8Array): [width: number, height: number] {
  if (bytes.length < 24) throw new PngFault('is damaged: it ends within its header');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return [view.getUint32(16), view.getUint32(20)];
}

/**
 * Takes a PNG apart into its chunks, each checked by its sum. The rows are views of `bytes` and are unpacked by
 * `unpackRows`: image packages unpack all at once, several times the picture, and misread interlaced ones below 8 bits.
 *
 * @see ISO/IEC 15948, Portable Network Graphics
 * @throws {PngFault}
 */
export function openPng(bytes: Uint8Array): OpenPng {
  const png: OpenPng = {
    width: 0,
    height: 0,
    depth: 0,
    samples: 0,
    isInterlaced: false,
    palette: null,
    packed: [],
    text: {},
  };
  let alphas: Uint8Array | null = null;
  let colors: Uint8Array | null = null;
  let isIndexed = false;
  for (const { type, data } of listChunks(bytes)) {
    if (png.depth === 0 && type !== 'IHDR') throw new PngFault('is damaged: it does not begin with a header');
    if (type === 'IHDR') isIndexed = readHeader(png, data);
    else if (type === 'PLTE') colors = data;
    else if (type === 'tRNS') alphas = data;
    else if (type === 'IDAT') png.packed.push(data);
    else if (type === 'tEXt') readText(png.text, data);
  }
  if (!isIndexed) return png;
  if (!colors || colors.length % 3 !== 0) throw new PngFault('is damaged: it lacks its palette');
  png.palette = joinPalette(colors, alphas);
  return png;
}

interface Chunk {
  type: string;
  data: Uint8Array;
}

function* listChunks(bytes: Uint8Array): Generator<Chunk> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = SIGNATURE.length; at < bytes.length; ) {
    const length = at + 12 <= bytes.length ? view.getUint32(at) : Number.POSITIVE_INFINITY;
    const end = at + 8 + length;
    if (end + 4 > bytes.length) throw new PngFault('is damaged: it ends too early');
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (computeCheckSum(bytes.subarray(at + 4, end)) !== view.getUint32(end))
      throw new PngFault(`is damaged: the sum of its part ${JSON.stringify(type)} is another`);
    yield { type, data: bytes.subarray(at + 8, end) };
    if (type === 'IEND') return;
    at = end + 4;
  }
}

/** @returns Whether the samples are numbers of colours. */
function readHeader(png: OpenPng, data: Uint8Array): boolean {
  if (data.length !== 13) throw new PngFault('is damaged: its header has another length');
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  const [depth, kind, packing, filter, interlace] = data.subarray(8);
  png.width = view.getUint32(0);
  png.height = view.getUint32(4);
  if (png.width === 0 || png.height === 0) throw new PngFault('is damaged: it has no width or no height');
  if (!DEPTHS[kind!]?.includes(depth!) || packing !== 0 || filter !== 0 || interlace! > 1)
    throw new PngFault('is damaged: its header says what no PNG can be');
  png.depth = depth!;
  png.samples = SAMPLES[kind!]!;
  png.isInterlaced = interlace === 1;
  return kind === 3;
}

function joinPalette(colors: Uint8Array, alphas: Uint8Array | null): NonNullable<OpenPng['palette']> {
  if (!alphas) return { colors, channels: 3 };
  const joined = new Uint8Array((4 * colors.length) / 3);
  for (let i = 0; 3 * i < colors.length; i++) {
    joined.set(colors.subarray(3 * i, 3 * i + 3), 4 * i);
    joined[4 * i + 3] = alphas[i] ?? 255;
  }
  return { colors: joined, channels: 4 };
}

function readText(text: Record<string, string>, data: Uint8Array): void {
  const end = data.indexOf(0);
  if (end <= 0) return;
  const decoder = new TextDecoder('latin1');
  text[decoder.decode(data.subarray(0, end))] = decoder.decode(data.subarray(end + 1));
}

const SUM_TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let sum = n;
  for (let k = 0; k < 8; k++) sum = sum & 1 ? 0xedb88320 ^ (sum >>> 1) : sum >>> 1;
  return sum;
});

/** The cyclic redundancy sum that PNG asks for. */
export function computeCheckSum(bytes: Uint8Array): number {
  let sum = 0xffffffff;
  for (let i = 0; i < bytes.length; i++) sum = SUM_TABLE[(sum ^ bytes[i]!) & 0xff]! ^ (sum >>> 8);
  return (sum ^ 0xffffffff) >>> 0;
}
