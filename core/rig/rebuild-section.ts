import type { Section } from './character.ts';

/**
 * A section with other vertices and triangles: vertex i of the result is vertex `sources[i]` of the given one.
 * Vertices may be left out and repeated.
 */
export function rebuildSection(
  section: Section,
  sources: ArrayLike<number>,
  triangles: Uint32Array,
): Section {
  const gather = <T extends Float32Array | Uint16Array>(array: T, width: number): T => {
    const gathered = new (array.constructor as new (length: number) => T)(width * sources.length);
    for (let i = 0; i < sources.length; i++) {
      gathered.set(array.subarray(width * sources[i]!, width * (sources[i]! + 1)), width * i);
    }
    return gathered;
  };
  const { influences, restPositions, unweighted } = section;
  return {
    ...section,
    positions: gather(section.positions, 3),
    normals: gather(section.normals, 3),
    uvs: section.uvs && gather(section.uvs, 2),
    colors: section.colors && gather(section.colors, 3),
    jointIndices: gather(section.jointIndices, influences),
    jointWeights: gather(section.jointWeights, influences),
    triangles,
    morphs: section.morphs.map((morph) => ({
      ...morph,
      positions: gather(morph.positions, 3),
      normals: morph.normals && gather(morph.normals, 3),
    })),
    ...(unweighted ? { unweighted: gather(unweighted, 1) } : {}),
    ...(restPositions ? { restPositions: gather(restPositions, 3) } : {}),
  };
}

/** A section without the vertices that no triangle uses. */
export function dropUnusedVertices(section: Section, triangles: Uint32Array): Section {
  const numbers = new Int32Array(section.positions.length / 3).fill(-1);
  for (const vertex of triangles) numbers[vertex] = 0;
  const sources: number[] = [];
  numbers.forEach((used, vertex) => {
    if (used < 0) return;
    numbers[vertex] = sources.length;
    sources.push(vertex);
  });
  if (sources.length === numbers.length) return { ...section, triangles };
  return rebuildSection(
    section,
    sources,
    triangles.map((vertex) => numbers[vertex]!),
  );
}
