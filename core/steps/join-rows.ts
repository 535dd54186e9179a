import { listBorderPoints, listThinFaces, NO_TRIANGLE, THIN_SHARE } from '../mesh/index.ts';
import type { Character, Section } from '../rig/index.ts';
import { joinPoints } from './join-points.ts';
import { createSectionMesh } from './section-mesh.ts';
import { defineStep, replaceOwn } from './step-definition.ts';

/** Joins the two sides of thin rows point by point, onto the border where the row runs along one. */
export function joinRows(character: Character, sectionIndex: number): Section {
  const section = character.sections[sectionIndex]!;
  const mesh = createSectionMesh(character, sectionIndex);
  const { table, lengths, pointCount, spacing } = mesh;
  const isThin = new Uint8Array(mesh.areas.length);
  // A rim beside piping closes with it: told apart they would leave half a row.
  for (const face of listThinFaces(mesh, false)) isThin[face] = 1;
  const isBorder = new Uint8Array(pointCount);
  for (const point of listBorderPoints(table)) isBorder[point] = 1;
  const leaderOf = Int32Array.from({ length: pointCount }, (_, p) => p);
  const find = (point: number): number => (leaderOf[point] === point ? point : find(leaderOf[point]!));
  for (let e = 0; e < table.edgeCount; e++) {
    const [f, g] = [table.triangles[2 * e]!, table.triangles[2 * e + 1]!];
    if (!isThin[f] && !(g !== NO_TRIANGLE && isThin[g])) continue;
    // Along the row edges are as long as elsewhere; across it they are short.
    if (lengths[e]! > 1.2 * THIN_SHARE * spacing) continue;
    const [p, q] = [find(table.edges[2 * e]!), find(table.edges[2 * e + 1]!)];
    if (p === q) continue;
    const [kept, lost] =
      isBorder[q]! > isBorder[p]! || (isBorder[q] === isBorder[p] && q < p) ? [q, p] : [p, q];
    leaderOf[lost] = kept;
  }
  return joinPoints(
    section,
    mesh.pointOfVertex,
    mesh.vertexOfPoint,
    leaderOf.map((_, p) => find(p)),
  );
}

export const joinRowsStep = defineStep({
  kind: 'joinRows',
  fields: {},
  describe: () => 'join thin rows',
  apply: (context) => replaceOwn(context, joinRows(context.character, context.sectionIndex)),
});
