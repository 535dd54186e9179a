import { parseArgs } from 'node:util';
import { createDocument, listBodySections } from '../../core/document/index.ts';
import type { MeshFinding } from '../../core/mesh/index.ts';
import { checkSection } from '../../core/prepare/index.ts';
import type { Command } from '../command.ts';
import { requireSection } from '../find-section.ts';
import { toPrintableName } from '../printable.ts';
import { readSource } from '../read-source.ts';
import { UsageError } from '../usage-error.ts';

const USAGE = `Usage: ./cobweb check FILE [--section NAME] [--json]

Examines the meshes of a .glb, .gltf or .obj: open seams, slivers, doubled, turned and loose parts, thin
rows, uneven spacing, diagonals that disagree, stretch in the pose it plays in, what lies in the body, UVs.

  --section  only the section of this name
  --json     print {"sections": [{"name", "findings": [{"kind", "severity", "count", "measured", "limit",
             "unit", "sentence", "fix"}]}], "severe"}

Exit code: 0, 1 when a finding is severe, 2 with the reason when the file cannot be used.`;

export const command: Command = {
  summary: 'examine the meshes of a character file',
  usage: USAGE,
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      options: { section: { type: 'string' }, json: { type: 'boolean' } },
      allowPositionals: true,
    });
    const [file] = positionals;
    if (!file) throw new UsageError('name a file. See ./cobweb check --help.');
    const { character } = await readSource(file);
    const wanted =
      values.section === undefined
        ? Array.from(character.sections.keys())
        : [requireSection(character, values.section)];
    const body = listBodySections(createDocument(), character);
    const sections = wanted.map((index) => ({
      name: character.sections[index]!.name,
      findings: checkSection(character, index, body.includes(index) ? [] : body),
    }));
    const severe = sections
      .flatMap(({ findings }) => findings)
      .filter(({ severity }) => severity === 'severe').length;
    if (values.json) {
      const told = sections.map(({ name, findings }) => ({
        name,
        findings: findings.map(({ vertices: _vertices, ...finding }) => finding),
      }));
      console.log(JSON.stringify({ sections: told, severe }, null, 2));
    } else for (const { name, findings } of sections) console.log(describe(toPrintableName(name), findings));
    return severe > 0 ? 1 : 0;
  },
};

function describe(name: string, findings: readonly MeshFinding[]): string {
  if (findings.length === 0) return `${name}: nothing found`;
  const lines = findings.map(
    ({ severity, sentence, measured, limit, unit }) =>
      `  ${severity.padEnd(8)} ${sentence}\n           measured ${round(measured)}, limit ${round(limit)} ${unit}`,
  );
  return [`${name}:`, ...lines].join('\n');
}

function round(value: number): number {
  return Number(value.toPrecision(3));
}
