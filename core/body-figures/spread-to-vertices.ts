import { weldPoints } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import type { BodySkin } from '../suggest/index.ts';

/**
 * Values of the points of the skin for the vertices of its sections, to be drawn.
 *
 * @param values - [n] of the skin's points. @param bodySections - Sections that the skin was made of, in their order.
 * @returns One array for each section, [vertices].
 */
export function spreadToVertices(
  { model }: Pick<BodySkin, 'model'>,
  { sections }: Character,
  bodySections: readonly number[],
  values: Float32Array,
): Float32Array[] {
  const counts = bodySections.map((index) => sections[index]!.positions.length / 3);
  const joined = new Float32Array(3 * counts.reduce((sum, count) => sum + count, 0));
  const starts: number[] = [];
  let fill = 0;
  bodySections.forEach((index, s) => {
    starts.push(fill);
    joined.set(sections[index]!.positions, 3 * fill);
    fill += counts[s]!;
  });
  const { pointOfVertex, pointCount } = weldPoints(joined);
  const ofWelded = new Float32Array(pointCount).fill(Number.NaN);
  for (let p = 0; p < model.pointCount; p++) {
    // Points between vertices, on halved edges, are not drawn.
    if (model.shares[3 * p] === 1) ofWelded[pointOfVertex[model.vertices[3 * p]!]!] = values[p]!;
  }
  return starts.map((start, s) =>
    Float32Array.from({ length: counts[s]! }, (_, v) => ofWelded[pointOfVertex[start + v]!]!),
  );
}
