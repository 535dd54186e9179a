import { type Pricing, REFERENCE_PRICING } from '../cost/index.ts';
import type { MeasureKey } from '../document/index.ts';
import { WORK_KEYS, type WorkKey } from '../run/index.ts';
import type { CaseRows, GarmentRows, GarmentWorkRows, MeasureRows } from './case-rows.ts';
import { MEASURES } from './measures.ts';
import { priceRows } from './price-rows.ts';

/** Raised when the form changes: 2 has what was done, counted. */
const FORM = 2;
/** What is not known. */
const UNKNOWN = 0xffff;
/** The highest value of a row. */
const TOP = 0xfffe;

/** `measured`: the same bytes for the same document, whoever measures; `machine`: what it took there by the clock. */
export type TrialPart = 'measured' | 'machine';

interface PackedGarment extends Omit<GarmentRows, 'rows' | 'work'> {
  work?: PackedWork;
}

/** Counts that are the same in every frame; those that are not, whose rows follow; and bodies. */
interface PackedWork {
  steady: Partial<Record<WorkKey, number>>;
  varying: WorkKey[];
  bodies: GarmentWorkRows['bodies'];
  waitsFor?: GarmentWorkRows['waitsFor'];
}

interface Header {
  form: number;
  part: TrialPart;
  cases: {
    name: string;
    frames: number;
    garments: PackedGarment[];
    joints?: number | null;
    /** Highest value of each row: times, then the measures of the whole and of each garment, then varying counts of each garment, as they follow. */
    tops: number[];
  }[];
}

/**
 * A trial as bytes: per row its highest value, and each frame as a 16-bit share of it, so that a value read back is within 1/65,534 of the
 * row's highest. Worst values are kept exactly. Costs are not kept, but what was done: they follow from it.
 */
export function packTrial(cases: readonly CaseRows[], part: TrialPart): Uint8Array {
  const works = cases.map(({ garments }) => garments.map(({ work }) => (work ? packWork(work) : undefined)));
  const rows = cases.map((each, c) =>
    part === 'measured' ? listMeasured(each, works[c]!) : [each.times, ...each.clock],
  );
  const header: Header = {
    form: FORM,
    part,
    cases: cases.map(({ name, times, garments, joints }, c) => ({
      name,
      frames: times.length,
      garments: garments.map(({ garmentId, garmentName, places }, g) =>
        part === 'measured'
          ? { garmentId, garmentName, places, ...(works[c]![g] && { work: works[c]![g] }) }
          : { garmentId, garmentName, places: {} },
      ),
      ...(part === 'measured' && { joints }),
      tops: rows[c]!.map(findTop),
    })),
  };
  return joinBytes(header, rows.flat());
}

/**
 * The cases of packed parts of one trial, priced.
 * @throws {Error} When bytes are not those of a trial, or of parts that do not belong together.
 */
export function unpackTrial(
  measured: Uint8Array,
  machine: Uint8Array,
  pricing: Pricing = REFERENCE_PRICING,
): CaseRows[] {
  const [first, second] = [unpackPart(measured, 'measured'), unpackPart(machine, 'machine')];
  if (first.cases.length !== second.cases.length || first.form !== second.form)
    throw new Error('The two parts are not of one trial.');
  return first.cases.map((each, c) => {
    const other = second.cases[c]!;
    if (other.name !== each.name || other.frames !== each.frames)
      throw new Error('The two parts are not of one trial.');
    const clock = other.rows.slice(1);
    const keys = listKeys();
    const take = (at: number): MeasureRows =>
      ({
        ...Object.fromEntries(keys.map((key, k) => [key, each.rows[1 + at * keys.length + k]!])),
        cost: clock[at]!,
      }) as MeasureRows;
    let next = 1 + (each.garments.length + 1) * keys.length;
    const garments = each.garments.map(({ work, ...garment }, g): GarmentRows => {
      const varying = each.rows.slice(next, next + (work?.varying.length ?? 0));
      next += varying.length;
      return { ...garment, rows: take(g + 1), work: work ? unpackWork(work, varying, each.frames) : null };
    });
    const { name, joints = null } = each;
    return priceRows({ name, times: each.rows[0]!, whole: take(0), garments, joints, clock }, pricing);
  });
}

/** Measures that are kept as they are. */
function listKeys(): MeasureKey[] {
  return MEASURES.filter((measure) => !('isPriced' in measure)).map(({ key }) => key);
}

function listMeasured(
  { times, whole, garments }: CaseRows,
  works: readonly (PackedWork | undefined)[],
): Float32Array[] {
  const keys = listKeys();
  const measures = [whole, ...garments.map(({ rows }) => rows)].flatMap((rows) =>
    keys.map((key) => rows[key]),
  );
  const counts = garments.flatMap(({ work }, g) => works[g]?.varying.map((key) => work!.counts[key]!) ?? []);
  return [times, ...measures, ...counts];
}

function packWork({ counts, bodies, waitsFor }: GarmentWorkRows): PackedWork {
  const steady: PackedWork['steady'] = {};
  const varying: WorkKey[] = [];
  for (const key of WORK_KEYS) {
    const row = counts[key];
    if (row?.some((value) => value !== row[0])) varying.push(key);
    else if (row?.[0]) steady[key] = row[0];
  }
  return { steady, varying, bodies, ...(waitsFor && { waitsFor }) };
}

function unpackWork(
  { steady, varying, bodies, waitsFor }: PackedWork,
  rows: readonly Float32Array[],
  frames: number,
): GarmentWorkRows {
  const counts: Partial<Record<WorkKey, Float32Array>> = {};
  for (const key of WORK_KEYS) if (steady[key]) counts[key] = new Float32Array(frames).fill(steady[key]);
  varying.forEach((key, k) => {
    counts[key] = rows[k]!;
  });
  return { counts, bodies, ...(waitsFor && { waitsFor }) };
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

function joinBytes(header: Header, rows: readonly Float32Array[]): Uint8Array {
  const text = new TextEncoder().encode(JSON.stringify(header));
  const start = 4 + text.length + (text.length % 2);
  const bytes = new Uint8Array(start + 2 * rows.reduce((sum, row) => sum + row.length, 0));
  const view = new DataView(bytes.buffer);
  view.setUint32(0, text.length, true);
  bytes.set(text, 4);
  let offset = start;
  for (const row of rows) {
    const top = findTop(row);
    for (const value of row) {
      view.setUint16(offset, toShare(value, top), true);
      offset += 2;
    }
  }
  return bytes;
}

interface UnpackedPart {
  form: number;
  cases: (Header['cases'][number] & { rows: Float32Array[] })[];
}

function unpackPart(bytes: Uint8Array, part: TrialPart): UnpackedPart {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const length = bytes.length >= 4 ? view.getUint32(0, true) : bytes.length;
  if (4 + length > bytes.length) throw new Error('These are not the bytes of a trial.');
  const header = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + length))) as Header;
  if (!(header.form >= 1 && header.form <= FORM) || header.part !== part)
    throw new Error(
      `A trial of form ${header.form} (${header.part}) can not be read; expected ${FORM} (${part}) or an earlier one.`,
    );
  let offset = 4 + length + (length % 2);
  const cases = header.cases.map((each) => {
    const rows = each.tops.map((top) => {
      if (offset + 2 * each.frames > bytes.length) throw new Error('The bytes of the trial end too early.');
      const row = Float32Array.from({ length: each.frames }, (_, i) => {
        const share = view.getUint16(offset + 2 * i, true);
        return share === UNKNOWN ? Number.NaN : share === TOP ? top : (top * share) / TOP;
      });
      offset += 2 * each.frames;
      return row;
    });
    // Counts are whole numbers.
    const measures =
      each.tops.length - each.garments.reduce((sum, { work }) => sum + (work?.varying.length ?? 0), 0);
    return { ...each, rows: rows.map((row, r) => (r < measures ? row : row.map(Math.round))) };
  });
  return { form: header.form, cases };
}
