import { closeSync, fstatSync, openSync, readFileSync, readSync } from 'node:fs';
import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import { ensureMap } from '../../core/document/index.ts';
import { buildPointNeighbours } from '../../core/mesh/index.ts';
import { createUvMesh, readMapImage, UvError } from '../../core/reach/index.ts';
import {
  checkMapPng,
  type ImageChannel,
  PNG_HEAD_BYTES,
  type ReadImage,
  readMapPng,
  writeShipment,
} from '../../formats/index.ts';
import { readSource } from '../read-source.ts';
import { UsageError } from '../usage-error.ts';
import { writeOutput } from '../write-output.ts';
import { createIds, findMapped, requireChannel } from './find-map.ts';
import { readRange } from './read-range.ts';

export async function importMap(args: string[]): Promise<number> {
  const { values: options, positionals } = parseArgs({
    args,
    options: {
      section: { type: 'string' },
      channel: { type: 'string' },
      range: { type: 'string' },
      take: { type: 'string' },
      soften: { type: 'string' },
      output: { type: 'string', short: 'o' },
      json: { type: 'boolean' },
    },
    allowPositionals: true,
  });
  const [file, picture] = positionals;
  const { section, channel, output } = options;
  if (!file || !picture || section === undefined || channel === undefined || !output)
    throw new UsageError(
      'name a file, an image, --section NAME, --channel NAME and -o OUT.glb. See ./cobweb map --help.',
    );
  const soften = Number(options.soften ?? '0');
  if (!Number.isInteger(soften) || soften < 0 || soften > 100)
    throw new UsageError(`--soften is a whole number of rounds from 0 to 100; it is "${options.soften}".`);
  const kind = requireChannel(channel);
  const source = await readSource(file);
  const mapped = findMapped(source, section);
  const image = readPicture(picture);
  const range = options.range ? readRange(options.range, kind) : image.range;
  if (!range)
    throw new UsageError(
      `${picture} does not say what white stands for: give --range. See ./cobweb map --help.`,
    );
  const map = ensureMap(mapped.authored, mapped.garment, kind, mapped.pointCount, createIds('map'));
  const values = mapped.authored.arrays.get(map.id)!;
  try {
    const mesh = createUvMesh(mapped.section, mapped.lining);
    const neighbours = buildPointNeighbours(mapped.section);
    const grey = image.pick(requireImageChannel(image, options.take ?? 'grey'));
    const change = readMapImage(values, mesh, neighbours, grey, {
      kind,
      low: range.low,
      high: range.high,
      soften,
    });
    change.indices.forEach((point, k) => {
      values[point] = change.after[k]!;
    });
    writeOutput(output, await writeShipment(source, mapped.authored));
    const told = { file: output, channel: kind, points: values.length, changed: change.indices.length };
    const held = values.reduce((count, value) => count + (value === 0 ? 1 : 0), 0);
    if (options.json) console.log(JSON.stringify({ ...told, atZero: held }, null, 2));
    else console.log(`${output}: ${told.changed} of ${told.points} vertices changed, ${held} at 0`);
  } catch (error) {
    throw error instanceof UvError ? new UsageError(error.message) : error;
  }
  return 0;
}

function requireImageChannel(image: ReadImage, name: string): ImageChannel {
  if (image.channels.includes(name as ImageChannel)) return name as ImageChannel;
  throw new UsageError(`the image has no channel "${name}"; it has ${image.channels.join(', ')}.`);
}

function readPicture(path: string): ReadImage {
  let file: number;
  try {
    file = openSync(path, 'r');
  } catch {
    throw new UsageError(`${path}: there is no such file.`);
  }
  try {
    const head = new Uint8Array(PNG_HEAD_BYTES);
    const count = readSync(file, head);
    checkMapPng(head.subarray(0, count), fstatSync(file).size, basename(path));
    return readMapPng(readFileSync(path), basename(path));
  } finally {
    closeSync(file);
  }
}
