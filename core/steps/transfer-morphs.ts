import {
  bindSection,
  type Character,
  invertBind,
  type MorphTarget,
  type Section,
  type TransferOptions,
  transferFields,
} from '../rig/index.ts';
import { joinSections } from './join-sections.ts';
import { createSectionMesh, replaceSection } from './section-mesh.ts';
import { defineStep, replaceOwn } from './step-definition.ts';
import { angleField, lengthField } from './step-fields.ts';

/**
 * Morph targets of the body for a garment, so that one slider moves both: offsets of the closest skin, filled in
 * smoothly where the garment lies far from it. Those that the garment has by the same name stay.
 *
 * @throws {RangeError} Without a body that has morph targets.
 */
export function transferMorphs(
  character: Character,
  sectionIndex: number,
  bodySections: readonly number[],
  options: TransferOptions = {},
): Section {
  const section = character.sections[sectionIndex]!;
  const bodies = bodySections.filter(
    (index) => index !== sectionIndex && character.sections[index]!.morphs.length > 0,
  );
  const first = character.sections[bodies[0] ?? -1];
  if (!first) throw new RangeError('there is no body with morph targets');
  const own = new Set(section.morphs.map(({ name }) => name));
  const wanted = first.morphs.map(({ name }) => name).filter((name) => !own.has(name));
  const { positions, triangles } = joinSections(character, bodies, 1, false);
  const offsets = collectOffsets(character, bodies, wanted);
  const mesh = createSectionMesh(character, sectionIndex);
  const width = 3 * wanted.length;
  const { values } = transferFields(
    { positions: mesh.pointPositions, triangles: mesh.faces },
    { positions, triangles },
    offsets,
    width,
    options,
  );
  const morphs = wanted.map((name, m): MorphTarget => {
    const world = new Float32Array(mesh.pointPositions.length);
    for (let p = 0; p < mesh.pointCount; p++) {
      for (let k = 0; k < 3; k++)
        world[3 * p + k] = mesh.pointPositions[3 * p + k]! + values[width * p + 3 * m + k]!;
    }
    const [moved, still] = [
      invertBind(character, section.skin, world),
      invertBind(character, section.skin, mesh.pointPositions),
    ];
    const ofVertices = new Float32Array(section.positions.length);
    mesh.pointOfVertex.forEach((point, vertex) => {
      for (let k = 0; k < 3; k++) ofVertices[3 * vertex + k] = moved[3 * point + k]! - still[3 * point + k]!;
    });
    return { name, positions: ofVertices, normals: null };
  });
  const weightOf = new Map(first.morphs.map(({ name }, m) => [name, first.morphWeights[m] ?? 0]));
  return {
    ...section,
    morphs: [...section.morphs, ...morphs],
    morphWeights: Float32Array.from([...section.morphWeights, ...wanted.map((name) => weightOf.get(name)!)]),
  };
}

/** Offsets in world space of the bind pose at the points of the bodies, [points, morphs, 3]. */
function collectOffsets(
  character: Character,
  bodies: readonly number[],
  names: readonly string[],
): Float32Array {
  const rows: number[] = [];
  for (const index of bodies) {
    const { vertexOfPoint } = createSectionMesh(character, index);
    const still = bindWith(character, index, null);
    const moved = names.map((name) => bindWith(character, index, name));
    for (const vertex of vertexOfPoint) {
      for (const positions of moved) {
        for (let k = 0; k < 3; k++)
          rows.push(positions ? positions[3 * vertex + k]! - still![3 * vertex + k]! : 0);
      }
    }
  }
  return Float32Array.from(rows);
}

/** World places in bind pose with one morph at 1 and the others at 0; null when the section lacks it. */
function bindWith(character: Character, index: number, name: string | null): Float32Array | null {
  const section = character.sections[index]!;
  const at = section.morphs.findIndex((morph) => morph.name === name);
  if (name !== null && at < 0) return null;
  const weights = Float32Array.from(section.morphs, (_, m) => (m === at ? 1 : 0));
  return bindSection(replaceSection(character, index, { ...section, morphWeights: weights }), index);
}

export const transferMorphsStep = defineStep({
  kind: 'transferMorphs',
  fields: { maxDistance: lengthField, maxAngle: angleField },
  describe: () => 'body shapes from the body',
  apply: (context, { kind: _kind, ...settings }) => {
    const { character, sectionIndex, onProgress } = context;
    const options = { ...settings, onProgress };
    return replaceOwn(context, transferMorphs(character, sectionIndex, context.listBody(), options));
  },
});
