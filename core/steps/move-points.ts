import { boolean } from 'yup';
import { computeVertexNormals } from '../mesh/index.ts';
import { bindSection, type Character, invertBind, type Section } from '../rig/index.ts';
import { createSectionMesh } from './section-mesh.ts';
import { defineStep, replaceOwn } from './step-definition.ts';
import { readVertexEdits, unpackVertexEdits, type VertexEdits } from './vertex-edits.ts';

/**
 * Moves points of a section by hand-made ways in world space of the bind pose.
 *
 * @param handwork - Ways, m, width 3. @param keepsLengths - The cloth's lengths at rest stay those from before; otherwise they
 * are those of the new shape.
 * @throws {RangeError} Without anything moved.
 */
export function movePoints(
  character: Character,
  sectionIndex: number,
  edits: VertexEdits | null,
  keepsLengths: boolean,
): Section {
  const section = character.sections[sectionIndex]!;
  if (edits?.width !== 3) throw new RangeError('what was moved is not known any more');
  const mesh = createSectionMesh(character, sectionIndex);
  // Around what was moved the ways go out smoothly by themselves: no point is left out.
  const { values: displacements } = readVertexEdits(edits, mesh.pointPositions);
  const world = mesh.pointPositions.map((value, i) => value + displacements[i]!);
  const [own, before] = [
    invertBind(character, section.skin, world),
    invertBind(character, section.skin, mesh.pointPositions),
  ];
  const positions = section.positions.slice();
  mesh.pointOfVertex.forEach((point, vertex) => {
    for (let k = 0; k < 3; k++)
      positions[3 * vertex + k] = positions[3 * vertex + k]! + own[3 * point + k]! - before[3 * point + k]!;
  });
  const rest = section.restPositions ?? bindSection(character, sectionIndex);
  return {
    ...section,
    positions,
    normals: refreshNormals(section, positions, mesh.pointOfVertex, mesh.pointCount),
    restPositions: keepsLengths ? rest : null,
  };
}

/** Normals of a section after its positions changed: smooth over points, and as they were where nothing moved. */
export function refreshNormals(
  { positions: before, normals, triangles }: Section,
  positions: Float32Array,
  pointOfVertex: Uint32Array,
  pointCount: number,
): Float32Array {
  const smooth = (positions: Float32Array): Float32Array => {
    const ofPoints = new Float32Array(3 * pointCount);
    pointOfVertex.forEach((point, vertex) => {
      ofPoints.set(positions.subarray(3 * vertex, 3 * vertex + 3), 3 * point);
    });
    const faces = triangles.map((vertex) => pointOfVertex[vertex]!);
    return computeVertexNormals(ofPoints, faces, new Float32Array(3 * pointCount));
  };
  const [was, is] = [smooth(before), smooth(positions)];
  const out = normals.slice();
  pointOfVertex.forEach((point, vertex) => {
    const isTurned = [0, 1, 2].some((k) => Math.abs(was[3 * point + k]! - is[3 * point + k]!) > 1e-6);
    if (isTurned) out.set(is.subarray(3 * point, 3 * point + 3), 3 * vertex);
  });
  return out;
}

export const movePointsStep = defineStep({
  kind: 'movePoints',
  fields: { keepsLengths: boolean().required() },
  describe: () => 'shaped by hand',
  apply: (context, { keepsLengths }) => {
    const { character, sectionIndex, array } = context;
    return replaceOwn(context, movePoints(character, sectionIndex, unpackVertexEdits(array), keepsLengths));
  },
});
