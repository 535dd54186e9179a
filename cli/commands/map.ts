import type { Command } from '../command.ts';
import { exportMap } from '../map/export-map.ts';
import { importMap } from '../map/import-map.ts';
import { UsageError } from '../usage-error.ts';

const USAGE = `Usage: ./cobweb map export FILE --section NAME --channel NAME [--size N] -o OUT.png
       ./cobweb map import FILE IN.png --section NAME --channel NAME [--range R] -o OUT.glb

Writes a map of a garment as a grey PNG in UV space, bled over seams, or takes one over from an image. FILE is a
shipped .glb, or a plain one: then import makes the section a garment, all of it held but for what the image says.

  --channel   maxDistance, inwardLimit, limitRoundness, lining, stiffness, damping or drag
  --range     what white stands for, or LOW..HIGH for black and white: cm, %, or a factor. Export: the least round
              value that nothing lies above. Import: what the image says itself
  --json      print what was done as JSON, lengths in metres

  export
  --size      texels a side; default 1024
  --depth     8 or 16 bits; default 16
  --layout    also write the edges in UV space, to paint over

  import
  --take      grey, red, green, blue or alpha of the image; default grey
  --soften    rounds of smoothing over the mesh afterwards, held vertices stay held; default 0

Exit code: 0, 2 with the reason when nothing could be written.`;

export const command: Command = {
  summary: 'write a painted map as an image, or take one over',
  usage: USAGE,
  async run([act, ...args]) {
    if (act === 'export') return exportMap(args);
    if (act === 'import') return importMap(args);
    throw new UsageError('say export or import. See ./cobweb map --help.');
  },
};
