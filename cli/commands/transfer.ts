import { parseArgs } from 'node:util';
import { createDocument, listBodySections } from '../../core/document/index.ts';
import { tellVertices } from '../../core/math/index.ts';
import { bindSection, type Character, invertBind, type Section } from '../../core/rig/index.ts';
import {
  replaceSection,
  transferMorphs,
  transferWeights,
  type WeightTransfer,
} from '../../core/steps/index.ts';
import { getGltfIo, writeCharacter } from '../../formats/index.ts';
import type { Command } from '../command.ts';
import { toPrintableName } from '../printable.ts';
import { readSource } from '../read-source.ts';
import { UsageError } from '../usage-error.ts';
import { writeOutput } from '../write-output.ts';

const USAGE = `Usage: ./cobweb transfer BODY.glb GARMENT.(glb|obj) -o OUT.glb [--distance CM] [--json]

Gives the sections of a garment file the skin weights of a body, and its morph targets when it has some. Both
files must stand in the same place in bind pose. OUT.glb holds the garment on the body's skeleton, with the
body's clips; the body itself is not in it.

  --distance   skin farther away than this is not taken over directly but filled in; default 5
  --json       print {"file", "sections": [{"name", "matched", "filled", "farOff", "morphs"}]}

Exit code: 0, 2 with the reason when nothing could be written.`;

export const command: Command = {
  summary: 'carry skin weights and morphs from a body to a garment',
  usage: USAGE,
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      options: {
        output: { type: 'string', short: 'o' },
        distance: { type: 'string' },
        json: { type: 'boolean' },
      },
      allowPositionals: true,
    });
    const [bodyFile, garmentFile] = positionals;
    if (!bodyFile || !garmentFile || !values.output) {
      throw new UsageError('name a body, a garment and -o OUT.glb. See ./cobweb transfer --help.');
    }
    if (!/\.glb$/i.test(values.output))
      throw new UsageError(`-o must end in .glb, which holds weights; it is "${values.output}".`);
    const distance = Number(values.distance ?? '5');
    if (!(distance > 0)) throw new UsageError(`--distance must be above 0; it is "${values.distance}".`);
    const body = (await readSource(bodyFile)).character;
    const garment = (await readSource(garmentFile)).character;
    const { character, told } = dress(body, garment, distance / 100);
    writeOutput(values.output, await (await getGltfIo()).writeBinary(writeCharacter(character)));
    if (values.json) console.log(JSON.stringify({ file: values.output, sections: told }, null, 2));
    else {
      console.log(values.output);
      for (const { name, matched, filled, farOff, morphs } of told) {
        console.log(
          `${toPrintableName(name)}: ${tellVertices(matched)} from the skin, ${filled} filled in, ${farOff} far off; ${morphs} morphs`,
        );
      }
    }
    return 0;
  },
};

interface Told {
  name: string;
  matched: number;
  filled: number;
  farOff: number;
  morphs: number;
}

function dress(
  body: Character,
  garment: Character,
  maxDistance: number,
): { character: Character; told: Told[] } {
  const bodySections = listBodySections(createDocument(), body).filter(
    (index) => !body.sections[index]!.isRigid,
  );
  if (bodySections.length === 0)
    throw new UsageError('the body file has no skinned body to take weights from.');
  const skin = body.sections[bodySections[0]!]!.skin;
  const hasMorphs = bodySections.some((index) => body.sections[index]!.morphs.length > 0);
  const told: Told[] = [];
  const skeleton = addCarriers(body, garment.sections);
  const sections = garment.sections.map((section, i): Section => {
    const positions = invertBind(body, skin, bindSection(garment, i));
    const moved: Section = {
      ...section,
      positions,
      morphs: [],
      morphWeights: new Float32Array(0),
      skin,
      restPositions: null,
    };
    const at = body.sections.length;
    let character = replaceSection(body, at, moved);
    const { section: weighted, outcome } = weigh(character, at, bodySections, maxDistance);
    character = replaceSection(character, at, weighted);
    const made = hasMorphs ? transferMorphs(character, at, bodySections, { maxDistance }) : weighted;
    told.push({ name: section.name, ...outcome, morphs: made.morphs.length });
    return {
      ...made,
      node: body.skeleton.names.length + i,
      meshIndex: i,
      meshName: section.name,
      primitiveIndex: 0,
    };
  });
  return { character: { ...body, name: garment.name, skeleton, sections }, told };
}

/** @throws {UsageError} When nothing of the section is near the body. */
function weigh(
  character: Character,
  section: number,
  bodySections: readonly number[],
  maxDistance: number,
): WeightTransfer {
  try {
    return transferWeights(character, section, bodySections, { maxDistance });
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new UsageError(`${character.sections[section]!.name}: ${error.message}`);
  }
}

/** The body's skeleton with a node for each section of the garment. */
function addCarriers({ skeleton }: Character, sections: readonly Section[]): Character['skeleton'] {
  const extend = (array: Float64Array, row: readonly number[]): Float64Array =>
    Float64Array.from([...array, ...sections.flatMap(() => row)]);
  return {
    names: [...skeleton.names, ...sections.map(({ name }) => name)],
    parents: Int32Array.from([...skeleton.parents, ...sections.map(() => -1)]),
    translations: extend(skeleton.translations, [0, 0, 0]),
    rotations: extend(skeleton.rotations, [0, 0, 0, 1]),
    scales: extend(skeleton.scales, [1, 1, 1]),
  };
}
