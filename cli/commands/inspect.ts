import { parseArgs } from 'node:util';
import type { IntakeReport, ReportNote } from '../../core/document/index.ts';
import { IntakeError } from '../../formats/index.ts';
import type { Command } from '../command.ts';
import { toPrintable, toPrintableName } from '../printable.ts';
import { readSource } from '../read-source.ts';
import { UsageError } from '../usage-error.ts';

const USAGE = `Usage: ./cobweb inspect FILE [--json]

Reads a .glb, .gltf (with the files beside it) or .obj and reports what is in it: size, sections,
joints, clips, what was unpacked, what was repaired, what is odd.

  --json   print the report as JSON; errors too, as {"error": {...}}

Exit code: 0 when the file can be used, 2 with the reason otherwise.`;

export const command: Command = {
  summary: 'report what is in a character file',
  usage: USAGE,
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      options: { json: { type: 'boolean' } },
      allowPositionals: true,
    });
    const [file] = positionals;
    if (!file) throw new UsageError('name a file. See ./cobweb inspect --help.');
    try {
      const { report } = await readSource(file);
      console.log(values.json ? JSON.stringify(report, null, 2) : describe(report));
      return 0;
    } catch (error) {
      if (!values.json || !(error instanceof IntakeError)) throw error;
      console.log(JSON.stringify({ error }, null, 2));
      return 2;
    }
  },
};

function describe(report: IntakeReport): string {
  const { counts, size, sizeAsPlaced } = report;
  const lines = [
    `${report.files.map((file) => toPrintableName(file.name)).join(', ')}: ${report.format}${report.generator ? `, written by ${toPrintableName(report.generator)}` : ''}`,
    `size       ${tellSize(size)} in bind pose`,
    ...(sizeAsPlaced && tellSize(sizeAsPlaced) !== tellSize(size)
      ? [`           ${tellSize(sizeAsPlaced)} as its nodes stand in the file`]
      : []),
    `skeleton   ${counts.joints} joints of ${counts.nodes} nodes, ${counts.skins} skins`,
    `sections   ${counts.sections}: ${counts.vertices} vertices, ${counts.triangles} triangles`,
    ...report.sections.map(
      (section) =>
        `           ${toPrintableName(section.name)}: ${section.vertices} vertices, ${section.triangles} triangles, ${section.isRigid ? 'rigid' : `${section.influences} influences`}${section.morphs ? `, ${section.morphs} morphs` : ''}`,
    ),
    `clips      ${counts.clips}`,
    ...report.clips.map(
      (clip) =>
        `           ${toPrintableName(clip.name)}: ${clip.seconds.toFixed(2)} s, ${clip.tracks} tracks`,
    ),
    ...report.decoded.map((what) => `unpacked   ${toPrintable(what)}`),
    ...listNotes('repaired', report.repairs),
    ...listNotes('odd', report.odd),
  ];
  return lines.join('\n');
}

function tellSize({ width, height, depth }: IntakeReport['size']): string {
  const metres = (value: number): string =>
    value >= 1000
      ? Math.round(value).toLocaleString('en')
      : value >= 0.01 || value === 0
        ? value.toFixed(3)
        : value.toPrecision(3);
  return `${metres(width)} x ${metres(height)} x ${metres(depth)} m`;
}

/** Places of one kind named on a line; further ones are counted. */
const NAMED = 3;

/** A line for each kind, with how often and where. */
function listNotes(title: string, notes: readonly ReportNote[]): string[] {
  const places = new Map<string, string[]>();
  for (const { sentence, where } of notes) places.set(sentence, [...(places.get(sentence) ?? []), where]);
  return [...places].map(([sentence, list]) => {
    const named = list.filter((where) => where !== '').slice(0, NAMED);
    const more = list.length - named.length;
    const where = `${named.map(toPrintableName).join(', ')}${named.length > 0 && more > 0 ? ` and ${more} more` : ''}`;
    return `${title.padEnd(11)}${list.length > 1 ? `${list.length} times: ` : ''}${toPrintable(sentence)}${where ? ` (${where})` : ''}`;
  });
}
