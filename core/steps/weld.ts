import { groupSeamPoints } from '../mesh/index.ts';
import type { Character, Section } from '../rig/index.ts';
import { joinPoints } from './join-points.ts';
import { createSectionMesh } from './section-mesh.ts';
import { defineStep, replaceOwn } from './step-definition.ts';

/** Joins the sides of open seams: their points move to the middle and share weights, so that they are one point. */
export function weldSection(character: Character, sectionIndex: number): Section {
  const section = character.sections[sectionIndex]!;
  const mesh = createSectionMesh(character, sectionIndex);
  const groups = groupSeamPoints(mesh);
  const leaderOf = Int32Array.from({ length: mesh.pointCount }, (_, p) => p);
  for (const [leader, ...others] of groups) for (const point of others) leaderOf[point] = leader!;
  const middleOf = new Map(
    groups.map((group) => [
      group[0]!,
      computeMiddle(
        section,
        group.map((p) => mesh.vertexOfPoint[p]!),
      ),
    ]),
  );
  return joinPoints(section, mesh.pointOfVertex, mesh.vertexOfPoint, leaderOf, middleOf);
}

function computeMiddle({ positions }: Section, vertices: readonly number[]): number[] {
  return [0, 1, 2].map((k) => vertices.reduce((sum, v) => sum + positions[3 * v + k]!, 0) / vertices.length);
}

export const weldStep = defineStep({
  kind: 'weld',
  fields: {},
  describe: () => 'weld open seams',
  apply: (context) => replaceOwn(context, weldSection(context.character, context.sectionIndex)),
});
