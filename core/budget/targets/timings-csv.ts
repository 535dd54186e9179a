import Papa from 'papaparse';
import { FRAME_RATE } from '../../run/index.ts';
import { listTargetGarments, type TargetGarment } from './target-garments.ts';

/** Columns that are filled in: a garment is measured up to three times. */
const TIME_COLUMNS = ['ms_1', 'ms_2', 'ms_3'] as const;
/** Longer than this, ms, no frame takes that anybody could use. */
const MOST_MILLISECONDS = 10_000;

/** File of a garment within the kit. */
export function nameGarmentFile(index: number, { spec }: TargetGarment): string {
  return `garments/${String(index + 1).padStart(2, '0')}-${spec.name.replaceAll(' ', '-')}.glb`;
}

/** The table to fill in: a row for each garment, with what an engine has to be set to. */
export function writeTimingsTemplate(): string {
  const rows = listTargetGarments().map((garment, index) => {
    const { spec, says } = garment;
    const { fabric } = spec;
    return {
      garment: spec.name,
      file: nameGarmentFile(index, garment),
      measures: says,
      simulated_vertices: spec.layers * spec.columns * spec.rows,
      drawn_vertices: (spec.isDrawnFine ? 4 : 1) * spec.columns * spec.rows * spec.layers,
      substeps_per_frame: fabric.substepsPerSecond / FRAME_RATE,
      iterations: fabric.iterations,
      collision_bodies: spec.capsules + spec.boxes,
      body_mesh: spec.meetsSkin ? 'yes' : 'no',
      self_collision_cm: fabric.selfDistance === 0 ? 'off' : (100 * fabric.selfDistance).toFixed(2),
      layers: spec.layers,
      wind_metres_per_second: spec.wind,
      ...Object.fromEntries(TIME_COLUMNS.map((column) => [column, ''])),
    };
  });
  return `${Papa.unparse(rows, { newline: '\n' })}\n`;
}

/** Times by garment. Rows without any are left out. ms a frame */
export type Timings = ReadonlyMap<string, readonly number[]>;

/**
 * Reads a table that was filled in. Tables with semicolons or tabs, and with commas in numbers, are taken too.
 *
 * @throws {Error} That says which row and column is wrong.
 */
export function readTimings(text: string): Timings {
  const { data, meta } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, '').trim(), {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (header) => header.trim().toLowerCase(),
    delimitersToGuess: [',', ';', '\t'],
  });
  const fields = meta.fields ?? [];
  if (!fields.includes('garment'))
    throw new Error(
      'The table has no column “garment”. Fill in the table that comes with the calibration garments.',
    );
  const columns = TIME_COLUMNS.filter((column) => fields.includes(column));
  if (columns.length === 0)
    throw new Error(
      `The table has none of the columns ${TIME_COLUMNS.join(', ')}: times go there, in milliseconds a frame.`,
    );
  const known = new Set(listTargetGarments().map(({ spec }) => spec.name));
  const timings = new Map<string, number[]>();
  data.forEach((row, index) => {
    const line = `Row ${index + 2}`;
    const name = row.garment?.trim() ?? '';
    if (!known.has(name))
      throw new Error(
        `${line}: there is no calibration garment “${name}”. Leave the names as they were exported.`,
      );
    if (timings.has(name))
      throw new Error(
        `${line}: ${name} is there twice. Use the columns ${TIME_COLUMNS.join(', ')} for several times.`,
      );
    const times = columns.flatMap((column) => {
      const cell = (row[column] ?? '').trim();
      return cell === '' ? [] : [readTime(cell, `${line}, ${name}, ${column}`)];
    });
    timings.set(name, times);
  });
  const filled = new Map([...timings].filter(([, times]) => times.length > 0));
  if (filled.size === 0)
    throw new Error(`No time is filled in: the columns ${columns.join(', ')} are empty.`);
  return filled;
}

function readTime(cell: string, where: string): number {
  const value = Number(/^\d+,\d+$/.test(cell) ? cell.replace(',', '.') : cell);
  if (!Number.isFinite(value))
    throw new Error(`${where}: “${cell}” is no number. Milliseconds a frame go here, like 1.25.`);
  if (value <= 0 || value > MOST_MILLISECONDS)
    throw new Error(
      `${where}: ${cell} ms cannot be. A time is above 0 and below ${MOST_MILLISECONDS} ms a frame.`,
    );
  return value;
}
