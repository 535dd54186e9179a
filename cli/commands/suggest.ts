import { parseArgs } from 'node:util';
import {
  type AuthoredDocument,
  type BodySetRecord,
  listBodies,
  listBodyMeshes,
  type RecordId,
  writeBodySet,
} from '../../core/document/index.ts';
import type { Character } from '../../core/rig/index.ts';
import { BodySuggestion, type TriedSet, toBodyRecords } from '../../core/suggest/index.ts';
import { finish } from '../../server/work/jobs/finish.ts';
import type { Command } from '../command.ts';
import { findClips } from '../find-clips.ts';
import { toPrintableName } from '../printable.ts';
import { readDressed } from '../read-dressed.ts';
import { UsageError } from '../usage-error.ts';
import { writeOutput } from '../write-output.ts';

const USAGE = `Usage: ./cobweb suggest FILE.glb [--bodies COUNT] [--clips NAME,NAME] [--margin MM]
                        [--penetration MM --show-through CM2] [-o SET.json] [--json]

Suggests collision bodies for a character with garments (a file that was shipped here): fits them to its skin and
adds one after another where the cloth still goes through on its clips. Prints each set that was tried.

  --bodies        at most so many; default 12
  --clips         clips that they should serve; default all
  --margin        kept around each body; default 6
  --penetration   stop as soon as no cloth is deeper in the skin, and
  --show-through  no more shows through on the mean of any clip; default: go on to the number
  -o              write the last set as a body set for the workbench
  --json          print {"sets": [{"bodies", "penetration", "showThrough", "clips": [{"name", "penetration",
                  "showThrough", "mostShowThrough"}]}]}, in m and m²

Exit code: 0, 1 when the limits were asked for and not reached, 2 with the reason when the file cannot be used.`;

export const command: Command = {
  summary: 'suggest collision bodies by simulating the clips',
  usage: USAGE,
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      options: {
        bodies: { type: 'string' },
        clips: { type: 'string' },
        margin: { type: 'string' },
        penetration: { type: 'string' },
        'show-through': { type: 'string' },
        output: { type: 'string', short: 'o' },
        json: { type: 'boolean' },
      },
      allowPositionals: true,
    });
    const [file] = positionals;
    if (!file) throw new UsageError('name a .glb with garments. See ./cobweb suggest --help.');
    const { character, authored, garment } = await readDressed(file);
    const limits = {
      penetration: readNumber(values, 'penetration', 0, 0, 1000) / 1000,
      showThrough: readNumber(values, 'show-through', 0, 0, 1e6) / 1e4,
    };
    const clips = findClips(character, values.clips);
    const tried = choose(authored, character, {
      bodySetId: garment.bodySetId,
      clips,
      goal: { bodies: Math.round(readNumber(values, 'bodies', 12, 1, 64)), ...limits },
      kinds: ['taperedCapsule'],
      mirrors: true,
      margin: readNumber(values, 'margin', 6, 0, 100) / 1000,
      keptIds: [],
    });
    const sets = tried.map((set) => toFigures(set, character));
    if (values.output)
      writeOutput(values.output, toFile(authored, character, garment.bodySetId, tried.at(-1)!));
    if (values.json) console.log(JSON.stringify({ sets }, null, 2));
    else for (const set of sets) console.log(tell(set));
    const last = sets.at(-1)!;
    const isAsked = limits.penetration > 0 || limits.showThrough > 0;
    const isReached = last.clips.every(
      (clip) => clip.penetration <= limits.penetration && clip.showThrough <= limits.showThrough,
    );
    return isAsked && !isReached ? 1 : 0;
  },
};

/** @throws {UsageError} For what is no number of the range. */
function readNumber(
  values: Record<string, unknown>,
  name: string,
  standard: number,
  least: number,
  most: number,
): number {
  const text = String(values[name] ?? standard);
  const value = text.trim() === '' ? Number.NaN : Number(text);
  if (!(value >= least && value <= most))
    throw new UsageError(`--${name} is a number from ${least} to ${most}; it is "${text}".`);
  return value;
}

function choose(
  document: AuthoredDocument,
  character: Character,
  request: ConstructorParameters<typeof BodySuggestion>[2],
): readonly TriedSet[] {
  let suggestion: BodySuggestion;
  try {
    suggestion = new BodySuggestion(document, character, request);
  } catch (error) {
    if (error instanceof RangeError) throw new UsageError(error.message);
    throw error;
  }
  const chooser = suggestion.createChooser(finish(suggestion.fit({ index: 0, count: 1 })));
  const measure = () => request.clips.map((clip) => finish(suggestion.measure(chooser.bodies, clip)));
  while (chooser.take(measure()));
  return chooser.tried;
}

interface SetFigures {
  bodies: number;
  penetration: number;
  showThrough: number;
  clips: { name: string; penetration: number; showThrough: number; mostShowThrough: number }[];
}

function toFigures({ bodies, demands }: TriedSet, character: Character): SetFigures {
  const clips = demands.map(({ clip, penetration, showThrough, mostShowThrough }) => ({
    name: character.clips[clip]!.name,
    penetration,
    showThrough,
    mostShowThrough,
  }));
  return {
    bodies: bodies.length,
    penetration: Math.max(...clips.map(({ penetration }) => penetration)),
    showThrough: clips.reduce((sum, { showThrough }) => sum + showThrough, 0) / clips.length,
    clips,
  };
}

function tell({ bodies, penetration, showThrough, clips }: SetFigures): string {
  const by = clips.map(
    ({ name, showThrough: area }) => `${toPrintableName(name)} ${(1e4 * area).toFixed(1)}`,
  );
  return `${String(bodies).padStart(2)} bodies: ${(1e4 * showThrough).toFixed(1)} cm² show through (${by.join(', ')}), ${(1e3 * penetration).toFixed(0)} mm deep`;
}

/** The set as the workbench takes it in. */
function toFile(
  document: AuthoredDocument,
  character: Character,
  bodySetId: RecordId,
  { bodies }: TriedSet,
): Uint8Array {
  const set = document.records.get(bodySetId) as BodySetRecord;
  for (const { id } of [...listBodies(document, bodySetId), ...listBodyMeshes(document, bodySetId)])
    document.records.delete(id);
  let count = 0;
  const createId = (): RecordId => `suggested-${String(++count).padStart(3, '0')}` as RecordId;
  for (const record of toBodyRecords(bodies, character.skeleton, bodySetId, createId))
    document.records.set(record.id, record);
  return new TextEncoder().encode(`${JSON.stringify(writeBodySet(document, character, set), null, 2)}\n`);
}
