import { number } from 'yup';
import {
  type HealthLimits,
  listBorderPoints,
  listDuplicateFaces,
  listSlivers,
  measureDistance,
} from '../mesh/index.ts';
import { type Character, dropUnusedVertices, type Section } from '../rig/index.ts';
import { flipDiagonal } from './flip-diagonal.ts';
import { joinPoints } from './join-points.ts';
import { createSectionMesh, replaceSection } from './section-mesh.ts';
import { defineStep, replaceOwn } from './step-definition.ts';

/** Mending one sliver may make another of its neighbour; a few rounds settle it. */
const MOST_ROUNDS = 8;
/** A sliver whose shortest side is below this share of the longest is a needle, else a cap. */
const NEEDLE_SHARE = 0.2;

/**
 * Takes away triangles without an area, those that lie on another, and slivers: a needle's short side is joined to one
 * point, a cap's long side is flipped (or, on a border, the cap dropped).
 *
 * @param smallestAngle - Of a triangle that stays, radians; without it as sharp as a check lets pass.
 */
export function dropFaces(character: Character, sectionIndex: number, smallestAngle?: number): Section {
  let section = dropDoubled(character, sectionIndex);
  const limits =
    smallestAngle === undefined ? {} : { sliverAngle: toDegrees(smallestAngle), severeSliverAngle: 0 };
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const mended = mendSlivers(replaceSection(character, sectionIndex, section), sectionIndex, limits);
    if (!mended) break;
    section = mended;
  }
  return section;
}

function dropDoubled(character: Character, sectionIndex: number): Section {
  const section = character.sections[sectionIndex]!;
  const mesh = createSectionMesh(character, sectionIndex);
  const doubled = new Set(listDuplicateFaces(mesh.faces));
  const kept = Array.from(mesh.triangleOfFace).filter((_, f) => !doubled.has(f));
  return dropUnusedVertices(
    section,
    Uint32Array.from(kept.flatMap((t) => [...section.triangles.subarray(3 * t, 3 * t + 3)])),
  );
}

function mendSlivers(
  character: Character,
  sectionIndex: number,
  limits: Partial<HealthLimits>,
): Section | null {
  const section = character.sections[sectionIndex]!;
  const mesh = createSectionMesh(character, sectionIndex, limits);
  const slivers = listSlivers(mesh);
  if (slivers.length === 0) return null;
  const border = new Set(listBorderPoints(mesh.table));
  const leaderOf = Int32Array.from({ length: mesh.pointCount }, (_, p) => p);
  const triangles = section.triangles.slice();
  const dropped = new Set<number>();
  const touched = new Set<number>();
  for (const f of slivers) {
    const corners = [0, 1, 2].map((k) => mesh.faces[3 * f + k]!);
    if (corners.some((point) => touched.has(point))) continue;
    const sides = corners.map((p, k) => ({
      p,
      q: corners[(k + 1) % 3]!,
      length: measureDistance(mesh.pointPositions, p, corners[(k + 1) % 3]!),
    }));
    sides.sort((s, t) => s.length - t.length);
    const [shortest, , longest] = sides as [(typeof sides)[0], (typeof sides)[0], (typeof sides)[0]];
    if (shortest.length < NEEDLE_SHARE * longest.length) {
      // A border keeps its form: the inner point goes.
      const [kept, lost] =
        border.has(shortest.q) && !border.has(shortest.p)
          ? [shortest.q, shortest.p]
          : [shortest.p, shortest.q];
      leaderOf[lost] = kept;
    } else if (!flipDiagonal(triangles, mesh, longest.p, longest.q)) dropped.add(mesh.triangleOfFace[f]!);
    for (const point of corners) touched.add(point);
  }
  const remaining = triangles.filter((_, i) => !dropped.has(Math.floor(i / 3)));
  return joinPoints({ ...section, triangles: remaining }, mesh.pointOfVertex, mesh.vertexOfPoint, leaderOf);
}

function toDegrees(radians: number): number {
  return (180 * radians) / Math.PI;
}

export const dropFacesStep = defineStep({
  kind: 'dropFaces',
  // Left out by documents from before there was a choice.
  fields: {
    smallestAngle: number()
      .optional()
      .min(0)
      .max(Math.PI / 3),
  },
  describe: ({ smallestAngle }) =>
    smallestAngle === undefined
      ? 'drop slivers and doubles'
      : `drop doubles and slivers below ${Number(toDegrees(smallestAngle).toFixed(1))}°`,
  apply: (context, { smallestAngle }) =>
    replaceOwn(context, dropFaces(context.character, context.sectionIndex, smallestAngle)),
});
