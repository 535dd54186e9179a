import { string } from 'yup';
import { SpatialIndex } from '../math/index.ts';
import { type Character, dropUnusedVertices } from '../rig/index.ts';
import { chooseSectionName } from './choose-section-name.ts';
import { createSectionMesh, replaceSection } from './section-mesh.ts';
import { defineStep } from './step-definition.ts';

/**
 * What was picked, as places to be kept beside a step: how many faces were picked, the middles of those, and the middles
 * of all others. So the same part is found again in a mesh that was cut into other triangles.
 *
 * @param isPicked - Of the section's faces in the order of `createSectionMesh`.
 */
export function packPicked(character: Character, sectionIndex: number, isPicked: Uint8Array): Float32Array {
  const middles = computeMiddles(character, sectionIndex);
  const inside: number[] = [];
  const outside: number[] = [];
  for (const [f, one] of isPicked.entries()) {
    (one ? inside : outside).push(...middles.subarray(3 * f, 3 * f + 3));
  }
  return Float32Array.from([inside.length / 3, ...inside, ...outside]);
}

/**
 * Makes the picked part of a section a section of its own, at the end of the list. Vertices along the cut are in both.
 *
 * @param packed - As `packPicked` makes it.
 * @throws {RangeError} When nothing, or everything, would be cut out.
 */
export function cutSection(
  character: Character,
  sectionIndex: number,
  name: string,
  packed: Float32Array | undefined,
): Character {
  const section = character.sections[sectionIndex]!;
  const isPicked = findPicked(character, sectionIndex, packed);
  const mesh = createSectionMesh(character, sectionIndex);
  const count = isPicked.reduce((sum, one) => sum + one, 0);
  if (count === 0 || count === isPicked.length) {
    throw new RangeError(`the cut takes ${count === 0 ? 'nothing' : 'all'} of "${section.name}"`);
  }
  const cornersOf = (wanted: number): Uint32Array =>
    Uint32Array.from(
      Array.from(mesh.triangleOfFace)
        .filter((_, f) => isPicked[f] === wanted)
        .flatMap((t) => [...section.triangles.subarray(3 * t, 3 * t + 3)]),
    );
  const part = { ...dropUnusedVertices(section, cornersOf(1)), name: chooseSectionName(character, name) };
  const rest = replaceSection(character, sectionIndex, dropUnusedVertices(section, cornersOf(0)));
  return replaceSection(rest, rest.sections.length, part);
}

/** A face is picked when the closest of the kept places was. */
function findPicked(
  character: Character,
  sectionIndex: number,
  packed: Float32Array | undefined,
): Uint8Array {
  const middles = computeMiddles(character, sectionIndex);
  if (!packed || packed.length < 4) return new Uint8Array(middles.length / 3);
  const positions = packed.slice(1);
  // Places as triangles without a size: the index finds the closest.
  const corners = Uint32Array.from({ length: positions.length }, (_, i) => Math.floor(i / 3));
  const index = new SpatialIndex(positions, corners);
  return Uint8Array.from({ length: middles.length / 3 }, (_, f) => {
    const closest = index.findClosest(middles[3 * f]!, middles[3 * f + 1]!, middles[3 * f + 2]!)!;
    return closest.triangle < packed[0]! ? 1 : 0;
  });
}

/** Middles of the faces in bind pose, world space. [f, 3] */
function computeMiddles(character: Character, sectionIndex: number): Float32Array {
  const { pointPositions: positions, faces } = createSectionMesh(character, sectionIndex);
  return Float32Array.from({ length: faces.length }, (_, i) => {
    const f = 3 * Math.floor(i / 3);
    return [0, 1, 2].reduce((sum, k) => sum + positions[3 * faces[f + k]! + (i % 3)]!, 0) / 3;
  });
}

export const cutStep = defineStep({
  kind: 'cut',
  fields: { name: string().required().max(200) },
  describe: ({ name }) => `cut out ${name}`,
  apply: ({ character, sectionIndex, array }, { name }) => ({
    character: cutSection(character, sectionIndex, name, array),
    made: [character.sections.length],
  }),
});
