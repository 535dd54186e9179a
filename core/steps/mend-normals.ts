import { computeVertexNormals, listBadNormals } from '../mesh/index.ts';
import type { Character, Section } from '../rig/index.ts';
import { createSectionMesh } from './section-mesh.ts';
import { defineStep, replaceOwn } from './step-definition.ts';

/** Shorter than this, a normal says nothing. */
const NOTHING = 1e-6;

/** Brings normals to length one; those that point nowhere become those of the surface around. The others stay as they are. */
export function mendNormals(character: Character, sectionIndex: number): Section {
  const section = character.sections[sectionIndex]!;
  const bad = listBadNormals(section.normals);
  if (bad.length === 0) return section;
  const { pointOfVertex, faces, vertexOfPoint } = createSectionMesh(character, sectionIndex);
  // In the section's own space, where its normals are.
  const places = new Float32Array(3 * vertexOfPoint.length);
  vertexOfPoint.forEach((vertex, point) => {
    places.set(section.positions.subarray(3 * vertex, 3 * vertex + 3), 3 * point);
  });
  const ofSurface = computeVertexNormals(places, faces, new Float32Array(places.length));
  const normals = section.normals.slice();
  for (const vertex of bad) {
    const own = normals.subarray(3 * vertex, 3 * vertex + 3);
    const length = Math.hypot(...own);
    const point = pointOfVertex[vertex]!;
    if (length > NOTHING && Number.isFinite(length)) own.set(own.map((value) => value / length));
    else own.set(ofSurface.subarray(3 * point, 3 * point + 3));
  }
  return { ...section, normals };
}

export const mendNormalsStep = defineStep({
  kind: 'mendNormals',
  fields: {},
  describe: () => 'repair normals',
  apply: (context) => replaceOwn(context, mendNormals(context.character, context.sectionIndex)),
});
