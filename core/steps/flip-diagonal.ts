import { type CheckedMesh, NO_TRIANGLE } from '../mesh/index.ts';

/**
 * Cuts the square around an edge between two points along its other diagonal.
 *
 * @param triangles - Of the section's vertices, [t, 3]; changed. @param mesh - What it was made of.
 * @returns False, with nothing changed, on a border, on a UV seam, or where the other diagonal is an edge already.
 */
export function flipDiagonal(triangles: Uint32Array, mesh: CheckedMesh, p: number, q: number): boolean {
  const { table, triangleOfFace, pointOfVertex } = mesh;
  const [low, high] = p < q ? [p, q] : [q, p];
  for (let e = 0; e < table.edgeCount; e++) {
    if (table.edges[2 * e] !== low || table.edges[2 * e + 1] !== high) continue;
    const [f, g] = [table.triangles[2 * e]!, table.triangles[2 * e + 1]!];
    if (g === NO_TRIANGLE) return false;
    const [c, d] = [table.opposite[2 * e]!, table.opposite[2 * e + 1]!];
    if (c === d || hasEdge(mesh, c, d)) return false;
    const cornersOf = (face: number): Map<number, number> => {
      const t = triangleOfFace[face]!;
      return new Map([0, 1, 2].map((k) => [pointOfVertex[triangles[3 * t + k]!]!, triangles[3 * t + k]!]));
    };
    const [first, second] = [cornersOf(f), cornersOf(g)];
    // Turned already by an earlier flip, or cut by a seam of UVs or normals.
    if (
      first.get(low) === undefined ||
      first.get(low) !== second.get(low) ||
      first.get(high) !== second.get(high)
    )
      return false;
    const [vc, vd] = [first.get(c), second.get(d)];
    if (vc === undefined || vd === undefined) return false;
    replaceCorner(triangles, triangleOfFace[f]!, first.get(high)!, vd);
    replaceCorner(triangles, triangleOfFace[g]!, second.get(low)!, vc);
    return true;
  }
  return false;
}

function hasEdge({ table }: CheckedMesh, p: number, q: number): boolean {
  const [low, high] = p < q ? [p, q] : [q, p];
  for (let e = 0; e < table.edgeCount; e++) {
    if (table.edges[2 * e] === low && table.edges[2 * e + 1] === high) return true;
  }
  return false;
}

function replaceCorner(triangles: Uint32Array, triangle: number, from: number, to: number): void {
  for (let i = 3 * triangle; i < 3 * triangle + 3; i++) if (triangles[i] === from) triangles[i] = to;
}
