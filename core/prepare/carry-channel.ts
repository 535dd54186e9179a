import { carryField } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { createSectionMesh } from './section-mesh.ts';

/**
 * Values painted on one section, for another over the same place: each new point takes what lay closest to it.
 * What was held stays held.
 *
 * @param from - The section that the values belong to, of one character (before a step), and `to` of another (after).
 * @param values - At the points of `from`. @returns At the points of `to`.
 */
export function carryChannel(
  from: { character: Character; sectionIndex: number },
  to: { character: Character; sectionIndex: number },
  values: Float32Array,
): Float32Array {
  const source = createSectionMesh(from.character, from.sectionIndex);
  const target = createSectionMesh(to.character, to.sectionIndex);
  return carryField({ positions: source.places, triangles: source.faces }, values, 1, target.places);
}
