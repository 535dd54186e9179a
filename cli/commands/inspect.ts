import { parseArgs } from 'node:util';
import type { IntakeReport } from '../../core/document/index.ts';
import { IntakeError } from '../../formats/index.ts';
import type { Command } from '../command.ts';
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
  const { counts, size } = report;
  const metres = (value: number): string => value.toFixed(3);
  const lines = [
    `${report.files.map((file) => file.name).join(', ')}: ${report.format}${report.generator ? `, written by ${report.generator}` : ''}`,
    `size       ${metres(size.width)} x ${metres(size.height)} x ${metres(size.depth)} m`,
    `skeleton   ${counts.joints} joints of ${counts.nodes} nodes, ${counts.skins} skins`,
    `sections   ${counts.sections}: ${counts.vertices} vertices, ${counts.triangles} triangles`,
    ...report.sections.map(
      (section) =>
        `           ${section.name}: ${section.vertices} vertices, ${section.triangles} triangles, ${section.isRigid ? 'rigid' : `${section.influences} influences`}${section.morphs ? `, ${section.morphs} morphs` : ''}`,
    ),
    `clips      ${counts.clips}`,
    ...report.clips.map(
      (clip) => `           ${clip.name}: ${clip.seconds.toFixed(2)} s, ${clip.tracks} tracks`,
    ),
    ...report.decoded.map((what) => `unpacked   ${what}`),
    ...report.repairs.map((note) => `repaired   ${note.where ? `${note.where}: ` : ''}${note.sentence}`),
    ...report.odd.map((note) => `odd        ${note.where ? `${note.where}: ` : ''}${note.sentence}`),
  ];
  return lines.join('\n');
}
