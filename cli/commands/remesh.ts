import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { measureBorderDeviation, measureSurface } from '../../core/mesh/index.ts';
import { collectOuterSurface, createSimSection, makeSimSurface } from '../../core/steps/index.ts';
import { getGltfIo, writeCharacter, writeObj } from '../../formats/index.ts';
import type { Command } from '../command.ts';
import { requireSection } from '../find-section.ts';
import { readSource } from '../read-source.ts';
import { UsageError } from '../usage-error.ts';

const USAGE = `Usage: ./cobweb remesh FILE --section NAME --edge CM [--border PERCENT] -o OUT.(glb|obj) [--json]

Makes an even mesh over a section, as it would be simulated: one point where vertices share a place, the
outer side only of a garment with two.

  --edge     wished length of the edges, cm
  --border   how closely open borders are followed, 0 to 100; default 50
  -o         .glb: the mesh on the skeleton of the file, with its skin weights, UVs and clips; .obj: places only
  --json     print the figures as JSON, lengths in metres

Exit code: 0, 2 with the reason when nothing could be written.`;

export const command: Command = {
  summary: 'make an even mesh over a section',
  usage: USAGE,
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      options: {
        section: { type: 'string' },
        edge: { type: 'string' },
        border: { type: 'string' },
        output: { type: 'string', short: 'o' },
        json: { type: 'boolean' },
      },
      allowPositionals: true,
    });
    const [file] = positionals;
    const { section, output } = values;
    if (!file || section === undefined || !output) {
      throw new UsageError('name a file, --section NAME, --edge CM and -o OUT. See ./cobweb remesh --help.');
    }
    if (!/\.(glb|obj)$/i.test(output))
      throw new UsageError(`-o must end in .glb or .obj; it is "${output}".`);
    const edgeLength = readNumber('--edge', values.edge, 0.1, 100) / 100;
    const borderDetail = readNumber('--border', values.border ?? '50', 0, 100) / 100;
    const { character } = await readSource(file);
    const index = requireSection(character, section);
    const surface = makeSimSurface(character, [index], { edgeLength, borderDetail });
    if (output.toLowerCase().endsWith('.obj')) writeFileSync(output, writeObj(section, surface));
    else {
      const made = { ...createSimSection(character, [index], surface), primitiveIndex: 0 };
      const document = writeCharacter({ ...character, sections: [made] });
      writeFileSync(output, await (await getGltfIo()).writeBinary(document));
    }
    const figures = {
      ...measureSurface(surface, edgeLength),
      borderDeviation: measureBorderDeviation(surface, collectOuterSurface(character, [index])),
    };
    console.log(
      values.json ? JSON.stringify({ file: output, ...figures }, null, 2) : describe(output, figures),
    );
    return 0;
  },
};

function readNumber(option: string, text: string | undefined, least: number, most: number): number {
  const value = Number(text);
  if (text === undefined || text.trim() === '' || !(value >= least && value <= most)) {
    throw new UsageError(
      `${option} must be a number from ${least} to ${most}; it is ${text === undefined ? 'missing' : `"${text}"`}.`,
    );
  }
  return value;
}

function describe(
  file: string,
  figures: ReturnType<typeof measureSurface> & { borderDeviation: number },
): string {
  const cm = (value: number): string => `${(100 * value).toFixed(2)} cm`;
  return [
    file,
    `points           ${figures.points}`,
    `triangles        ${figures.triangles}`,
    `spacing          ${cm(figures.spacing)} (nine tenths from ${cm(figures.shortEdge)} to ${cm(figures.longEdge)})`,
    `near the target  ${(100 * figures.withinTarget!).toFixed(1)} % of the edges within 0.7 to 1.4 times`,
    `smallest angle   ${figures.smallestAngle.toFixed(1)}°; ${figures.smallestAngleP99.toFixed(1)}° but for one triangle in a hundred`,
    `border           at most ${(1000 * figures.borderDeviation).toFixed(2)} mm off`,
  ].join('\n');
}
