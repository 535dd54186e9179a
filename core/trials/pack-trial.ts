import type { MeasureKey } from '../document/index.ts';
import type { CaseRows, GarmentRows, MeasureRows } from './case-rows.ts';
import { MEASURES } from './measures.ts';

/** Raised when the form changes. */
const FORM = 1;
/** What is not known. */
const UNKNOWN = 0xffff;
/** The highest value of a row. */
const TOP = 0xfffe;

/** `measured`: the same bytes for the same document, whoever measures; `machine`: what it cost there. */
export type TrialPart = 'measured' | 'machine';

interface Header {
  form: number;
  part: TrialPart;
  cases: {
    name: string;
    frames: number;
    garments: Omit<GarmentRows, 'rows'>[];
    /** Highest value of each row: times, then the measures of the whole and of each garment, as they follow. */
    tops: number[];
  }[];
}

/**
 * A trial as bytes: per row its highest value, and each frame as a 16-bit share of it, so that a value read back is within 1/65,534 of the
 * row's highest. Worst values are kept exactly.
 */
export function packTrial(cases: readonly CaseRows[], part: TrialPart): Uint8Array {
  const keys = listKeys(part);
  const rows = cases.map((each) => listRows(each, keys));
  const header: Header = {
    form: FORM,
    part,
    cases: cases.map(({ name, times, garments }, c) => ({
      name,
      frames: times.length,
      garments: garments.map(({ rows: _rows, places, ...garment }) => ({
        ...garment,
        places: part === 'measured' ? places : {},
      })),
      tops: rows[c]!.map(findTop),
    })),
  };
  const text = new TextEncoder().encode(JSON.stringify(header));
  const start = 4 + text.length + (text.length % 2);
  const count = rows.flat().reduce((sum, row) => sum + row.length, 0);
  const bytes = new Uint8Array(start + 2 * count);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, text.length, true);
  bytes.set(text, 4);
  let offset = start;
  for (const row of rows.flat()) {
    const top = findTop(row);
    for (const value of row) {
      view.setUint16(offset, toShare(value, top), true);
      offset += 2;
    }
  }
  return bytes;
}

/**
 * The cases of packed parts of one trial.
 * @throws {Error} When bytes are not those of a trial, or of parts that do not belong together.
 */
export function unpackTrial(measured: Uint8Array, machine: Uint8Array): CaseRows[] {
  const [first, second] = [unpackPart(measured, 'measured'), unpackPart(machine, 'machine')];
  if (first.length !== second.length) throw new Error('The two parts are not of one trial.');
  return first.map((each, c) => {
    const other = second[c]!;
    if (other.name !== each.name || other.times.length !== each.times.length)
      throw new Error('The two parts are not of one trial.');
    return {
      ...each,
      whole: { ...each.whole, ...other.whole },
      garments: each.garments.map((garment, g) => ({
        ...garment,
        rows: { ...garment.rows, ...other.garments[g]!.rows },
      })),
    };
  });
}

function listKeys(part: TrialPart): MeasureKey[] {
  return MEASURES.filter((measure) => 'isOfMachine' in measure === (part === 'machine')).map(
    ({ key }) => key,
  );
}

function listRows({ times, whole, garments }: CaseRows, keys: readonly MeasureKey[]): Float32Array[] {
  return [
    times,
    ...[whole, ...garments.map(({ rows }) => rows)].flatMap((rows) => keys.map((key) => rows[key])),
  ];
}

function findTop(row: Float32Array): number {
  return row.reduce((top, value) => (value > top ? value : top), 0);
}

function toShare(value: number, top: number): number {
  if (Number.isNaN(value)) return UNKNOWN;
  if (!(top > 0)) return 0;
  // What is less than the highest stays less, so that the worst frame stays the worst.
  return value < top ? Math.min(TOP - 1, Math.round((TOP * Math.max(0, value)) / top)) : TOP;
}

function unpackPart(bytes: Uint8Array, part: TrialPart): CaseRows[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const length = bytes.length >= 4 ? view.getUint32(0, true) : bytes.length;
  if (4 + length > bytes.length) throw new Error('These are not the bytes of a trial.');
  const header = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + length))) as Header;
  if (header.form !== FORM || header.part !== part)
    throw new Error(
      `A trial of form ${header.form} (${header.part}) can not be read; expected ${FORM} (${part}).`,
    );
  const keys = listKeys(part);
  let offset = 4 + length + (length % 2);
  return header.cases.map(({ name, frames, garments, tops }) => {
    const rows = tops.map((top) => {
      if (offset + 2 * frames > bytes.length) throw new Error('The bytes of the trial end too early.');
      const row = Float32Array.from({ length: frames }, (_, i) => {
        const share = view.getUint16(offset + 2 * i, true);
        return share === UNKNOWN ? Number.NaN : share === TOP ? top : (top * share) / TOP;
      });
      offset += 2 * frames;
      return row;
    });
    const take = (at: number): MeasureRows =>
      Object.fromEntries(keys.map((key, k) => [key, rows[1 + at * keys.length + k]!])) as MeasureRows;
    return {
      name,
      times: rows[0]!,
      whole: take(0),
      garments: garments.map((garment, g) => ({ ...garment, rows: take(g + 1) })),
    };
  });
}
