import { sampleField } from '../mesh/index.ts';
import type { ChannelKind } from '../reach/index.ts';
import type { Character } from '../rig/index.ts';
import { createSectionMesh } from '../steps/index.ts';

/** Of the spread of values, from the smallest up: what is held when nothing else is. */
const HOLD_SHARE = 0.15;

/**
 * Values painted on one section, for another over the same place: each new point takes what lay closest to it.
 * What was held by a max distance of 0 stays held.
 *
 * @param from - The section that the values belong to, of one character (before a step), and `to` of another (after).
 * @param values - At the points of `from`. @returns At the points of `to`.
 */
export function transferChannel(
  from: { character: Character; sectionIndex: number },
  to: { character: Character; sectionIndex: number },
  values: Float32Array,
  kind: ChannelKind = 'maxDistance',
): Float32Array {
  const source = createSectionMesh(from.character, from.sectionIndex);
  const target = createSectionMesh(to.character, to.sectionIndex);
  const transferred = sampleField(
    { positions: source.pointPositions, triangles: source.faces },
    values,
    1,
    target.pointPositions,
  );
  return kind === 'maxDistance' && values.includes(0) ? keepHold(transferred) : transferred;
}

/** On a much coarser mesh no point may lie where any was held: those that moved least are held then. */
function keepHold(values: Float32Array): Float32Array {
  if (values.length === 0 || values.includes(0)) return values;
  const least = values.reduce((low, value) => Math.min(low, value), Number.POSITIVE_INFINITY);
  const most = values.reduce((high, value) => Math.max(high, value), Number.NEGATIVE_INFINITY);
  const limit = least + HOLD_SHARE * (most - least);
  return values.map((value) => (value <= limit ? 0 : value));
}
