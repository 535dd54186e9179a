import { parseArgs } from 'node:util';
import { tellVertices } from '../../core/math/index.ts';
import {
  CHANNELS,
  createUvMesh,
  drawLayout,
  fitTop,
  UvError,
  writeMapImage,
} from '../../core/reach/index.ts';
import { packGrey, packMapPng } from '../../formats/index.ts';
import { readSource } from '../read-source.ts';
import { UsageError } from '../usage-error.ts';
import { writeOutput } from '../write-output.ts';
import { findMapped, requireChannel, requireValues } from './find-map.ts';
import { readRange } from './read-range.ts';

export async function exportMap(args: string[]): Promise<number> {
  const { values: options, positionals } = parseArgs({
    args,
    options: {
      section: { type: 'string' },
      channel: { type: 'string' },
      size: { type: 'string' },
      depth: { type: 'string' },
      range: { type: 'string' },
      layout: { type: 'string' },
      output: { type: 'string', short: 'o' },
      json: { type: 'boolean' },
    },
    allowPositionals: true,
  });
  const [file] = positionals;
  const { section, channel, output } = options;
  if (!file || section === undefined || channel === undefined || !output)
    throw new UsageError(
      'name a file, --section NAME, --channel NAME and -o OUT.png. See ./cobweb map --help.',
    );
  const size = Number(options.size ?? '1024');
  if (!Number.isInteger(size) || size < 16 || size > 8192)
    throw new UsageError(`--size is a whole number of texels from 16 to 8192; it is "${options.size}".`);
  const depth = Number(options.depth ?? '16');
  if (depth !== 8 && depth !== 16) throw new UsageError(`--depth is 8 or 16; it is "${options.depth}".`);
  const kind = requireChannel(channel);
  const mapped = findMapped(await readSource(file), section);
  const values = requireValues(mapped, kind);
  const range = options.range ? readRange(options.range, kind) : { low: 0, high: fitTop(kind, values) };
  try {
    const mesh = createUvMesh(mapped.section, mapped.lining);
    const image = writeMapImage(mesh, values, { size, depth, name: section, ...range });
    writeOutput(output, packMapPng(image, { channel: kind, ...range }));
    if (options.layout) writeOutput(options.layout, packGrey(size, 8, drawLayout(mesh, size)));
    const { worst, cutOff } = image;
    if (options.json)
      console.log(
        JSON.stringify({ file: output, channel: kind, ...range, size, depth, worst, cutOff }, null, 2),
      );
    else {
      const { perUnit, unit } = CHANNELS[kind];
      console.log(
        `${output}: ${CHANNELS[kind].label.toLowerCase()}, black ${range.low * perUnit}, white ${Number((range.high * perUnit).toPrecision(6))} ${unit}`,
      );
      console.log(
        `reads back within ${worst.away.toFixed(2)} grey steps, ${worst.atSeams.toFixed(2)} at seams` +
          (cutOff > 0 ? `; ${tellVertices(cutOff)} beyond the range, cut off` : ''),
      );
    }
  } catch (error) {
    throw error instanceof UvError ? new UsageError(error.message) : error;
  }
  return 0;
}
