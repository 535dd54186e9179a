import { Unzlib } from 'fflate';
import { type OpenPng, PngFault } from './open-png.ts';

/** Packed bytes that are unpacked at a time: at most a thousand times as many come out. */
const PIECE = 1 << 14;

/** Every so many columns and rows from where on: all at once, or the seven passes of an interlaced picture. */
const WHOLE = [{ x: 0, y: 0, across: 1, down: 1 }];
const PASSES = [
  { x: 0, y: 0, across: 8, down: 8 },
  { x: 4, y: 0, across: 8, down: 8 },
  { x: 0, y: 4, across: 4, down: 8 },
  { x: 2, y: 0, across: 4, down: 4 },
  { x: 0, y: 2, across: 2, down: 4 },
  { x: 1, y: 0, across: 2, down: 2 },
  { x: 0, y: 1, across: 1, down: 2 },
];

/** Samples of a row, [columns, samples], of the picture's row `y`, columns `x`, `x + across`, … */
export type TakeRow = (samples: Uint16Array, y: number, x: number, across: number) => void;

/**
 * Unpacks a picture row by row, holding no more than a row and a piece of it.
 *
 * @param takeRow - The samples are overwritten with the next row.
 * @throws {PngFault} When the rows cannot be unpacked or end too early.
 */
export function unpackRows(png: OpenPng, takeRow: TakeRow): void {
  const reader = new RowReader(png, takeRow);
  const inflator = new Unzlib((piece) => reader.take(piece));
  for (const packed of png.packed) {
    for (let at = 0; at < packed.length && !reader.isDone; at += PIECE) {
      try {
        inflator.push(packed.subarray(at, at + PIECE));
      } catch (error) {
        if (error instanceof PngFault) throw error;
        throw new PngFault('is damaged: its rows cannot be unpacked');
      }
    }
  }
  if (!reader.isDone) throw new PngFault('is damaged: it ends before its last row');
}

/** Puts rows together from pieces that end anywhere. */
class RowReader {
  readonly #png: OpenPng;
  readonly #takeRow: TakeRow;
  readonly #passes: typeof PASSES;
  /** The row that is filled, and the one before it in the same pass, each with its filter in front. */
  #row = new Uint8Array(0);
  #before = new Uint8Array(0);
  #samples = new Uint16Array(0);
  #filled = 0;
  #pass = -1;
  #y = 0;

  constructor(png: OpenPng, takeRow: TakeRow) {
    this.#png = png;
    this.#takeRow = takeRow;
    this.#passes = (png.isInterlaced ? PASSES : WHOLE).filter(({ x, y }) => x < png.width && y < png.height);
    this.#beginPass();
  }

  get isDone(): boolean {
    return this.#pass >= this.#passes.length;
  }

  take(piece: Uint8Array): void {
    for (let at = 0; at < piece.length && !this.isDone; ) {
      const taken = piece.subarray(at, at + this.#row.length - this.#filled);
      this.#row.set(taken, this.#filled);
      this.#filled += taken.length;
      at += taken.length;
      if (this.#filled === this.#row.length) this.#finishRow();
    }
  }

  #beginPass(): void {
    this.#pass++;
    if (this.isDone) return;
    const { width, depth, samples } = this.#png;
    const { x, y, across } = this.#passes[this.#pass]!;
    const columns = Math.ceil((width - x) / across);
    const length = 1 + Math.ceil((columns * samples * depth) / 8);
    this.#row = new Uint8Array(length);
    this.#before = new Uint8Array(length);
    this.#samples = new Uint16Array(columns * samples);
    this.#y = y;
  }

  #finishRow(): void {
    const { depth, samples, height } = this.#png;
    unfilter(this.#row, this.#before, Math.max(1, (depth * samples) >> 3));
    takeApart(this.#row, depth, this.#samples);
    const { x, across, down } = this.#passes[this.#pass]!;
    this.#takeRow(this.#samples, this.#y, x, across);
    [this.#row, this.#before] = [this.#before, this.#row];
    this.#filled = 0;
    this.#y += down;
    if (this.#y >= height) this.#beginPass();
  }
}

/** Undoes the filter that a row names in its first byte. @param step - Bytes from a picture element to the next. */
function unfilter(row: Uint8Array, before: Uint8Array, step: number): void {
  const filter = row[0]!;
  if (filter > 4) throw new PngFault(`is damaged: there is no filter ${filter}`);
  for (let i = 1; filter > 0 && i < row.length; i++) {
    const left = i > step ? row[i - step]! : 0;
    const above = before[i]!;
    if (filter === 1) row[i] = row[i]! + left;
    else if (filter === 2) row[i] = row[i]! + above;
    else if (filter === 3) row[i] = row[i]! + ((left + above) >> 1);
    else row[i] = row[i]! + predict(left, above, i > step ? before[i - step]! : 0);
  }
}

/** The one of three neighbours that is nearest to left + above - corner. */
function predict(left: number, above: number, corner: number): number {
  const [toLeft, toAbove] = [Math.abs(above - corner), Math.abs(left - corner)];
  const toCorner = Math.abs(left + above - 2 * corner);
  if (toLeft <= toAbove && toLeft <= toCorner) return left;
  return toAbove <= toCorner ? above : corner;
}

/** Samples of 1 to 16 bits out of the bytes of a row, the first in the highest bits. */
function takeApart(row: Uint8Array, depth: number, samples: Uint16Array): void {
  for (let i = 0; i < samples.length; i++) {
    if (depth === 8) samples[i] = row[1 + i]!;
    else if (depth === 16) samples[i] = (row[1 + 2 * i]! << 8) | row[2 + 2 * i]!;
    else {
      const bit = i * depth;
      samples[i] = (row[1 + (bit >> 3)]! >> (8 - depth - (bit & 7))) & ((1 << depth) - 1);
    }
  }
}
