import { dropUnusedVertices, type Section } from '../rig/index.ts';

/**
 * Puts every vertex of a point onto its leader: place, weights, morphs and rest place. Triangles that collapse go.
 *
 * @param leaderOf - point → the point it joins, itself when it stays. @param placeOf - Leader → new place, in the
 * section's own space; without one the leader stays where it is.
 */
export function joinPoints(
  section: Section,
  pointOfVertex: Uint32Array,
  vertexOfPoint: Uint32Array,
  leaderOf: Int32Array,
  positionOf: ReadonlyMap<number, readonly number[]> = new Map(),
): Section {
  const joined: Section = {
    ...section,
    positions: section.positions.slice(),
    jointIndices: section.jointIndices.slice(),
    jointWeights: section.jointWeights.slice(),
    morphs: section.morphs.map((morph) => ({ ...morph, positions: morph.positions.slice() })),
    ...(section.restPositions ? { restPositions: section.restPositions.slice() } : {}),
  };
  const { influences } = section;
  const copy = (
    array: Float32Array | Uint16Array,
    source: Float32Array | Uint16Array,
    width: number,
    to: number,
    from: number,
  ): void => {
    array.set(source.subarray(width * from, width * (from + 1)), width * to);
  };
  pointOfVertex.forEach((point, vertex) => {
    const leader = leaderOf[point]!;
    const position = positionOf.get(leader);
    if (leader === point && !position) return;
    const from = vertexOfPoint[leader]!;
    if (position) joined.positions.set(position, 3 * vertex);
    else copy(joined.positions, section.positions, 3, vertex, from);
    copy(joined.jointIndices, section.jointIndices, influences, vertex, from);
    copy(joined.jointWeights, section.jointWeights, influences, vertex, from);
    joined.morphs.forEach((morph, m) => {
      copy(morph.positions, section.morphs[m]!.positions, 3, vertex, from);
    });
    if (joined.restPositions) copy(joined.restPositions, section.restPositions!, 3, vertex, from);
  });
  const kept: number[] = [];
  for (let t = 0; t < section.triangles.length; t += 3) {
    const corners = [section.triangles[t]!, section.triangles[t + 1]!, section.triangles[t + 2]!];
    const [a, b, c] = corners.map((vertex) => leaderOf[pointOfVertex[vertex]!]!);
    if (a !== b && b !== c && c !== a) kept.push(...corners);
  }
  return dropUnusedVertices(joined, Uint32Array.from(kept));
}
