import type { CheckedMesh } from './health/index.ts';

/** Edges whose two triangles have different vertices there, as pairs of points. */
export function listUvSeams({
  triangles,
  triangleOfFace,
  pointOfVertex,
  table,
  uvs,
}: CheckedMesh): Uint32Array {
  const seams: number[] = [];
  if (!uvs) return Uint32Array.of();
  for (let e = 0; e < table.edgeCount; e++) {
    const [f, g] = [table.triangles[2 * e]!, table.triangles[2 * e + 1]!];
    if (g < 0) continue;
    const uvAt = (face: number, point: number): string => {
      for (let k = 0; k < 3; k++) {
        const vertex = triangles[3 * triangleOfFace[face]! + k]!;
        if (pointOfVertex[vertex] === point) return `${uvs[2 * vertex]},${uvs[2 * vertex + 1]}`;
      }
      return '';
    };
    const ends = [table.edges[2 * e]!, table.edges[2 * e + 1]!];
    if (ends.some((point) => uvAt(f, point) !== uvAt(g, point))) seams.push(...ends);
  }
  return Uint32Array.from(seams);
}
