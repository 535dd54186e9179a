/** No triangle on this side of an edge: the edge is on a border. */
export const NO_TRIANGLE = -1;

/**
 * ```
 *        c = opposite[2e]
 *       / \      triangle[2e]     has the edge as a → b
 *      a───b     edge e, a < b
 *       \ /      triangle[2e + 1] is the neighbour, or NO_TRIANGLE
 *        d = opposite[2e + 1]
 * ```
 */
export interface EdgeTable {
  edgeCount: number;
  /** [e, 2], lower index first. */
  edges: Uint32Array;
  /** [e, 2] triangle indices or NO_TRIANGLE. */
  triangles: Int32Array;
  /** [e, 2] the points across the edge, -1 where there is no triangle. */
  opposite: Int32Array;
  /** Edges met by more than two triangles; only the first two are kept above. */
  nonManifold: Uint32Array;
}

/**
 * Edges of a triangle mesh, in the order in which the triangles first use them.
 *
 * @param triangles - [t, 3] point indices, no triangle with a repeated index.
 * O(t) expected.
 */
export function buildEdgeTable(triangles: Uint32Array, pointCount: number): EdgeTable {
  const edgeOfPair = new Map<number, number>();
  const triangleCount = triangles.length / 3;
  const edges = new Uint32Array(triangleCount * 6);
  const edgeTriangles = new Int32Array(triangleCount * 6).fill(NO_TRIANGLE);
  const opposite = new Int32Array(triangleCount * 6).fill(-1);
  const nonManifold = new Set<number>();
  let edgeCount = 0;
  for (let t = 0; t < triangleCount; t++) {
    for (let side = 0; side < 3; side++) {
      const from = triangles[3 * t + side]!;
      const to = triangles[3 * t + ((side + 1) % 3)]!;
      const across = triangles[3 * t + ((side + 2) % 3)]!;
      const low = Math.min(from, to);
      const high = Math.max(from, to);
      const key = low * pointCount + high;
      let edge = edgeOfPair.get(key);
      if (edge === undefined) {
        edge = edgeCount++;
        edgeOfPair.set(key, edge);
        edges[2 * edge] = low;
        edges[2 * edge + 1] = high;
        edgeTriangles[2 * edge] = t;
        opposite[2 * edge] = across;
      } else if (edgeTriangles[2 * edge + 1] === NO_TRIANGLE) {
        edgeTriangles[2 * edge + 1] = t;
        opposite[2 * edge + 1] = across;
      } else {
        nonManifold.add(edge);
      }
    }
  }
  return {
    edgeCount,
    edges: edges.slice(0, 2 * edgeCount),
    triangles: edgeTriangles.slice(0, 2 * edgeCount),
    opposite: opposite.slice(0, 2 * edgeCount),
    nonManifold: Uint32Array.from(nonManifold),
  };
}

/** Points on edges with a triangle on one side only, in order. */
export function listBorderPoints({ edges, edgeCount, triangles }: EdgeTable): number[] {
  const points = new Set<number>();
  for (let e = 0; e < edgeCount; e++) {
    if (triangles[2 * e + 1] !== NO_TRIANGLE) continue;
    points.add(edges[2 * e]!);
    points.add(edges[2 * e + 1]!);
  }
  return [...points].sort((p, q) => p - q);
}
