import { parseArgs } from 'node:util';
import { boundPlaces, measureDiagonal, tellVertices } from '../../core/math/index.ts';
import {
  compareSurfaces,
  estimateRemesh,
  listFaults,
  type MendedSource,
  measureSurface,
  mendSource,
  type Surface,
  type SurfaceComparison,
  type SurfaceFigures,
} from '../../core/mesh/index.ts';
import {
  collectOuterSurface,
  createSimSection,
  judgeSectionSides,
  makeSimSurface,
  type OuterSurface,
  SIDES,
  type Sides,
} from '../../core/steps/index.ts';
import { getGltfIo, writeCharacter, writeObj } from '../../formats/index.ts';
import type { Command } from '../command.ts';
import { chooseSection } from '../find-section.ts';
import { toPrintableName } from '../printable.ts';
import { readSource } from '../read-source.ts';
import { UsageError } from '../usage-error.ts';
import { writeOutput } from '../write-output.ts';

const USAGE = `Usage: ./cobweb remesh FILE --edge CM -o OUT.(glb|obj) [--section NAME] [--border PERCENT]
                       [--sides outer|both] [--force] [--json]

Makes an even mesh over a section, as it would be simulated: vertices in the same place count as one.

  --edge     target length of the edges, cm
  --section  may be left out where there is only one
  --border   how closely open borders are followed, 0 to 100; default 50
  --sides    of a garment with an outer and an inner side: "outer" for the outer alone, "both"; by default the outer
             where it is certain that there are two, both otherwise
  --force    even when it takes more than a minute or makes more than two million triangles
  -o         .glb: the mesh on the skeleton of the file, with its skin weights, UVs and clips; .obj: places only
  --json     print the figures as JSON, lengths in metres

The result is compared with the section: triangles that face away, edges of more than two triangles, pieces, open borders,
area, volume and distance.

Exit code: 0; 1 when the mesh was written and does not stand for the section, with the reasons, or when nothing is
left to write; 2 with the reason when nothing could be written.`;

export const command: Command = {
  summary: 'make an even mesh over a section',
  usage: USAGE,
  async run(args) {
    const options = readOptions(args);
    const { character } = await readSource(options.file);
    const index = chooseSection(character, options.section);
    const { name } = character.sections[index]!;
    const shownName = toPrintableName(name);
    const { edgeLength, borderDetail, isForced } = options;
    const verdict = judgeSectionSides(character, [index]);
    const sides = options.sides ?? 'judged';
    const source = collectOuterSurface(character, [index], sides);
    if (source.triangles.length === 0) {
      console.error(`${shownName}: there are no triangles to make a mesh over.`);
      return 1;
    }
    refuseLonger(source, edgeLength);
    const { triangles, seconds } = estimateRemesh(source, edgeLength);
    if (seconds > 3) tellProgress(`about ${Math.round(triangles)} triangles, ${Math.ceil(seconds)} s`);
    const surface = makeOrRefuse(source, { edgeLength, borderDetail, isForced });
    if (surface.triangles.length === 0) {
      console.error(`${shownName}: nothing is left at edges of ${100 * edgeLength} cm.`);
      return 1;
    }
    if (options.output.toLowerCase().endsWith('.obj')) writeOutput(options.output, writeObj(name, surface));
    else {
      const made = { ...createSimSection(character, [index], surface), primitiveIndex: 0 };
      const document = writeCharacter({ ...character, sections: [made] });
      writeOutput(options.output, await (await getGltfIo()).writeBinary(document));
    }
    const mended = mendSource(source);
    const comparison = compareSurfaces(surface, mended.surface);
    const faults = listFaults(comparison, edgeLength);
    const figures = measureSurface(surface, edgeLength);
    const told: Report = {
      file: options.output,
      figures,
      comparison,
      mended,
      sides: tellSides(sides, verdict),
    };
    console.log(options.isJson ? JSON.stringify(toJson(told, faults), null, 2) : describe(told));
    for (const fault of faults) console.error(`${shownName}: ${fault}`);
    return faults.length > 0 ? 1 : 0;
  },
};

interface Options {
  file: string;
  section: string | undefined;
  edgeLength: number;
  borderDetail: number;
  sides: Sides | undefined;
  isForced: boolean;
  output: string;
  isJson: boolean;
}

function readOptions(args: string[]): Options {
  const { values, positionals } = parseArgs({
    args,
    options: {
      section: { type: 'string' },
      edge: { type: 'string' },
      border: { type: 'string' },
      sides: { type: 'string' },
      force: { type: 'boolean' },
      output: { type: 'string', short: 'o' },
      json: { type: 'boolean' },
    },
    allowPositionals: true,
  });
  const [file] = positionals;
  const { section, output, sides } = values;
  if (!file || !output)
    throw new UsageError('name a file, --edge CM and -o OUT. See ./cobweb remesh --help.');
  if (!/\.(glb|obj)$/i.test(output)) throw new UsageError(`-o must end in .glb or .obj; it is "${output}".`);
  if (sides !== undefined && !SIDES.slice(1).includes(sides as Sides))
    throw new UsageError(`--sides must be "outer" or "both"; it is "${sides}".`);
  return {
    file,
    section,
    edgeLength: readNumber('--edge', values.edge, 0.001, 100_000) / 100,
    borderDetail: readNumber('--border', values.border ?? '50', 0, 100) / 100,
    sides: sides as Sides | undefined,
    isForced: values.force ?? false,
    output,
    isJson: values.json ?? false,
  };
}

function readNumber(option: string, text: string | undefined, least: number, most: number): number {
  const value = Number(text);
  if (text === undefined || text.trim() === '' || !(value >= least && value <= most)) {
    throw new UsageError(
      `${option} must be a number from ${least} to ${most}; it is ${text === undefined ? 'missing' : `"${text}"`}.`,
    );
  }
  return value;
}

/** @throws {UsageError} When a single edge would be longer than the whole section. */
function refuseLonger({ positions }: Surface, edgeLength: number): void {
  const size = measureDiagonal(boundPlaces(positions));
  if (edgeLength > size)
    throw new UsageError(
      `--edge is ${100 * edgeLength} cm; the whole section is ${(100 * size).toPrecision(3)} cm from corner to corner.`,
    );
}

/** @throws {UsageError} When it would be too large, or take too long. */
function makeOrRefuse(
  source: OuterSurface,
  settings: Pick<Options, 'edgeLength' | 'borderDetail' | 'isForced'>,
): Surface {
  try {
    return makeSimSurface(source, settings, (share) => tellProgress(`${Math.round(100 * share)} %`));
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new UsageError(settings.isForced ? error.message : `${error.message} Or use --force.`);
  }
}

/** On one line of a terminal; nothing where nobody looks. */
function tellProgress(text: string): void {
  if (process.stderr.isTTY) process.stderr.write(`\r\x1b[Kremesh: ${text}${text === '100 %' ? '\n' : ''}`);
}

function tellSides(sides: Sides, verdict: ReturnType<typeof judgeSectionSides>): string {
  if (sides === 'both') return 'both were kept';
  if (sides === 'outer') return 'the outer was kept, as you asked';
  if (verdict === 'two') return 'two; the outer was kept (--sides both keeps both)';
  if (verdict === 'one') return 'one';
  return 'perhaps two: not certain, and both were kept (--sides outer drops the inner)';
}

interface Report {
  file: string;
  figures: SurfaceFigures;
  comparison: SurfaceComparison;
  mended: MendedSource;
  sides: string;
}

function toJson({ file, figures, comparison, mended, sides }: Report, faults: readonly string[]): object {
  const { welded, doubled, turned, parted, closed } = mended;
  return {
    file,
    ...figures,
    ...comparison,
    mended: { welded, doubled, turned, parted, closed },
    sides,
    faults,
  };
}

function describe({ file, figures, comparison, mended, sides }: Report): string {
  const cm = (value: number): string => `${(100 * value).toFixed(2)} cm`;
  const { pieces, loops, area, volume, crowded } = comparison;
  const share = (pair: { made: number; source: number }): string =>
    `${((100 * pair.made) / (pair.source || 1)).toFixed(1)} % of the source's`;
  const mends = [
    `${tellVertices(mended.welded)} that rounding had set apart welded`,
    `${mended.doubled} doubled triangles left out`,
    `${mended.turned} turned`,
    `${tellVertices(mended.parted)} parted that only touched`,
    `${tellVertices(mended.closed)} welded to the edge they lay on`,
  ].filter((text) => !text.startsWith('0 '));
  return [
    file,
    `vertices         ${figures.points}`,
    `triangles        ${figures.triangles}`,
    `spacing          ${cm(figures.spacing)} (nine tenths from ${cm(figures.shortEdge)} to ${cm(figures.longEdge)})`,
    `near the target  ${(100 * figures.withinTarget!).toFixed(1)} % of the edges within 0.7 to 1.4 times`,
    `smallest angle   ${figures.smallestAngle.toFixed(1)}°; ${figures.smallestAngleP99.toFixed(1)}° but for one triangle in a hundred`,
    `sides            ${sides}`,
    ...(mends.length > 0 ? [`mended before    ${mends.join(', ')}`] : []),
    `facing away      ${comparison.turned} triangles`,
    `crowded edges    ${cm(crowded.made)} of edges with more than two triangles; ${cm(crowded.source)} in the source`,
    `pieces           ${pieces.made}; ${pieces.source} in the source`,
    `open borders     ${loops.made}; ${loops.source} in the source`,
    `area             ${share(area)}`,
    ...(volume ? [`volume           ${share(volume)}`] : []),
    `distance         at most ${(1000 * comparison.deviation).toFixed(2)} mm off, either way`,
    ...(comparison.borderDeviation !== null
      ? [`border           at most ${(1000 * comparison.borderDeviation).toFixed(2)} mm off`]
      : []),
  ].join('\n');
}
