import { existsSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { type ValidationSummary, validateGlb } from '../../formats/gltf/validate-glb.ts';
import { writeShipment } from '../../formats/index.ts';
import type { Command } from '../command.ts';
import { withStored } from '../open-stored.ts';
import { toPrintable } from '../printable.ts';
import { readSource } from '../read-source.ts';
import { UsageError } from '../usage-error.ts';
import { writeOutput } from '../write-output.ts';

const USAGE = `Usage: ./cobweb ship CHARACTER -o OUT.glb [--json]

Writes the finished file of a character: its source with the max distance of each garment as the
vertex attribute _MAX_DISTANCE, bodies as KHR_implicit_shapes and KHR_physics_rigid_bodies, and
the cloth settings as COBWEB_cloth (docs/formats). The file is then checked by the glTF validator.

  CHARACTER   "Project/Character" or the id of a character in the application's database,
              or a .glb that was shipped before, to write and check it again
  -o          file to write
  --json      print {"file", "bytes", "revision", "validation": {"errors", "warnings", "messages"}};
              "revision" is the state of the character that the file was made of, and is left out
              when it was made of a file

Exit code: 0, 1 when the validator finds errors, 2 with the reason when nothing could be written.`;

export const command: Command = {
  summary: 'write the finished file of a character',
  usage: USAGE,
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      options: { output: { type: 'string', short: 'o' }, json: { type: 'boolean' } },
      allowPositionals: true,
    });
    const [wanted] = positionals;
    if (!wanted || !values.output)
      throw new UsageError('name a character and -o OUT.glb. See ./cobweb ship --help.');
    const { bytes, validation, revision } = existsSync(wanted)
      ? await shipFile(wanted)
      : await shipFromDatabase(wanted);
    writeOutput(values.output, bytes);
    if (values.json)
      console.log(
        JSON.stringify({ file: values.output, bytes: bytes.length, revision, validation }, null, 2),
      );
    else
      console.log(
        `${values.output}: ${bytes.length} bytes${revision ? `, made of revision ${revision}` : ''}; validator: ${validation.errors} errors, ${validation.warnings} warnings`,
      );
    if (validation.errors > 0)
      for (const { code, message, pointer } of validation.messages.slice(0, 3))
        console.error(toPrintable(`${code} at ${pointer || 'the file'}: ${message}`));
    return validation.errors > 0 ? 1 : 0;
  },
};

interface Shipped {
  bytes: Uint8Array;
  validation: ValidationSummary;
  revision?: number;
}

async function shipFile(path: string): Promise<Shipped> {
  const source = await readSource(path);
  if (!source.authored) {
    throw new UsageError(
      `${path} has no cloth data. Bring it into the application and make a garment, then ship the character by its name.`,
    );
  }
  const bytes = await writeShipment(source, source.authored);
  return { bytes, validation: await validateGlb(bytes) };
}

function shipFromDatabase(wanted: string): Promise<Shipped> {
  return withStored(wanted, ({ characters, id }) => characters.ship(id));
}
