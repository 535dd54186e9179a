import { SpatialIndex } from '../math/index.ts';
import { measureOnTriangle } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { createSectionMesh } from './section-mesh.ts';

/** A corner that counts for less than this does not make a held place free. */
const LEAST_SHARE = 1e-3;

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
  if (source.faces.length === 0) return new Float32Array(target.pointCount);
  const index = new SpatialIndex(source.places.slice(), source.faces);
  return Float32Array.from({ length: target.pointCount }, (_, p) => {
    const place = [0, 1, 2].map((k) => target.places[3 * p + k]!) as [number, number, number];
    const closest = index.findClosest(...place)!;
    const corners = [0, 1, 2].map((k) => source.faces[3 * closest.triangle + k]!);
    const { weights } = measureOnTriangle(source.places, 3, corners, closest.point);
    const shares = weights.map((weight) => (weight > LEAST_SHARE ? weight : 0));
    const total = shares.reduce((sum, share) => sum + share, 0);
    return corners.reduce((sum, corner, c) => sum + shares[c]! * values[corner]!, 0) / total;
  });
}
