import { parseArgs } from 'node:util';
import { createDocument, listBodySections } from '../../core/document/index.ts';
import { HEALTH_LIMITS, type HealthLimits, type MeshFinding } from '../../core/mesh/index.ts';
import { checkSection } from '../../core/prepare/index.ts';
import type { Command } from '../command.ts';
import { requireSection } from '../find-section.ts';
import { toPrintableName } from '../printable.ts';
import { readSource } from '../read-source.ts';
import { UsageError } from '../usage-error.ts';

/** Each with what it stands at. */
function tellLimits(): string {
  return HEALTH_LIMITS.map(
    ({ name, standard, unit, hint }) =>
      `               ${`${name}=${standard}`.padEnd(24)}${unit.padEnd(2)} ${hint}`,
  ).join('\n');
}

/** @throws {UsageError} For a limit that there is not, or that cannot be so. */
function readLimits(given: readonly string[]): Partial<HealthLimits> {
  const limits: Partial<HealthLimits> = {};
  for (const one of given) {
    const [name, text = ''] = one.split('=');
    const limit = HEALTH_LIMITS.find((known) => known.name === name);
    if (!limit) {
      const names = HEALTH_LIMITS.map((known) => known.name).join(', ');
      throw new UsageError(`there is no limit "${name}"; there are ${names}.`);
    }
    const value = text.trim() === '' ? Number.NaN : Number(text);
    if (!(value >= limit.least && value <= limit.most))
      throw new UsageError(`${name} is a number from ${limit.least} to ${limit.most}; it is "${text}".`);
    limits[limit.name] = value;
  }
  return limits;
}

const USAGE = `Usage: ./cobweb check FILE [--section NAME] [--limit NAME=NUMBER]... [--json]

Examines the meshes of a .glb, .gltf or .obj: open seams, slivers, doubled, turned and loose parts, thin
rows, uneven spacing, diagonals that disagree, stretch in the pose it plays in, vertices without weights,
broken normals, what lies in the body, UVs.

  --section  only the section of this name
  --limit    what a mesh may measure before something is found; the standard ones are
${tellLimits()}
  --json     print {"sections": [{"name", "findings": [{"kind", "severity", "count", "measured", "limit",
             "unit", "sentence", "fix"}]}], "severe"}

Exit code: 0, 1 when a finding is severe, 2 with the reason when the file cannot be used.`;

export const command: Command = {
  summary: 'examine the meshes of a character file',
  usage: USAGE,
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      options: {
        section: { type: 'string' },
        limit: { type: 'string', multiple: true },
        json: { type: 'boolean' },
      },
      allowPositionals: true,
    });
    const [file] = positionals;
    if (!file) throw new UsageError('name a file. See ./cobweb check --help.');
    const limits = readLimits(values.limit ?? []);
    const { character } = await readSource(file);
    const wanted =
      values.section === undefined
        ? Array.from(character.sections.keys())
        : [requireSection(character, values.section)];
    const body = listBodySections(createDocument(), character);
    const sections = wanted.map((index) => ({
      name: character.sections[index]!.name,
      findings: checkSection(character, index, body.includes(index) ? [] : body, limits),
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
