import { parseArgs } from 'node:util';
import { boundPlaces } from '../../core/math/index.ts';
import { type Character, Pose, poseSection } from '../../core/rig/index.ts';
import type { Command } from '../command.ts';
import { readSource } from '../read-source.ts';
import { UsageError } from '../usage-error.ts';

const USAGE = `Usage: ./cobweb pose FILE --clip NAME_OR_INDEX --time SECONDS --json

Prints the vertices of every section in a pose, after morphs and skinning: world space, the units and
the vertex order of the file, root motion included.

  --clip   name of the clip, or its number from 0; without it the pose the file's nodes stand in
  --time   seconds into the clip, default 0; before the first and after the last key the pose holds
  --json   {"clip", "time", "sections": [{"mesh", "primitive", "material", "node", "positions": [x, y, z, ...]}]};
           without it, the bounds of each section

Exit code: 0, or 2 with the reason when the file cannot be used or there is no such clip.`;

export const command: Command = {
  summary: 'print the vertices of a character in a pose',
  usage: USAGE,
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      options: { clip: { type: 'string' }, time: { type: 'string' }, json: { type: 'boolean' } },
      allowPositionals: true,
    });
    const [file] = positionals;
    if (!file) throw new UsageError('name a file. See ./cobweb pose --help.');
    const time = Number(values.time ?? 0);
    if (!Number.isFinite(time)) throw new UsageError(`--time ${values.time} is not a number of seconds.`);
    const { character } = await readSource(file);
    const pose = new Pose(character);
    const clip = values.clip === undefined ? null : findClip(character, values.clip);
    if (clip !== null) pose.setClip(character.clips[clip]!, time);
    const sections = character.sections.map((section, index) => ({
      mesh: section.meshName,
      primitive: section.primitiveIndex,
      material: section.materialName,
      node: character.skeleton.names[section.node]!,
      positions: poseSection(character, index, pose),
    }));
    if (values.json) {
      const plain = sections.map((section) => ({ ...section, positions: [...section.positions] }));
      console.log(
        JSON.stringify({ clip: clip === null ? null : character.clips[clip]!.name, time, sections: plain }),
      );
    } else {
      for (const { mesh, primitive, positions } of sections)
        console.log(`${mesh}, primitive ${primitive}: ${describeBounds(positions)}`);
    }
    return 0;
  },
};

function findClip(character: Character, wanted: string): number {
  const byName = character.clips.findIndex((clip) => clip.name === wanted);
  if (byName >= 0) return byName;
  const index = Number(wanted);
  if (wanted.trim() !== '' && Number.isInteger(index) && character.clips[index]) return index;
  const names = character.clips.map((clip, i) => `${i} "${clip.name}"`).join(', ') || 'none';
  throw new UsageError(`there is no clip "${wanted}". The file has: ${names}.`);
}

function describeBounds(positions: Float32Array): string {
  const { low, high } = boundPlaces(positions);
  const show = (position: readonly number[]): string => position.map((value) => value.toFixed(4)).join(' ');
  return `${positions.length / 3} vertices from ${show(low)} to ${show(high)}`;
}
