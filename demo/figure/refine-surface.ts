import { MeshoptSimplifier } from 'meshoptimizer';
import { joinNearVertices, weldPoints, weldTriangles } from '../../core/mesh/index.ts';
import { type DistanceFunction, gradient } from './distance.ts';
import type { Surface } from './polygonise.ts';

/** Moves every vertex onto the zero set, a few Newton steps along the gradient. */
export function projectOnto(surface: Surface, distance: DistanceFunction, most: number): void {
  const p = surface.positions;
  for (let i = 0; i < p.length; i += 3) {
    for (let step = 0; step < 3; step++) {
      const d = Math.max(-most, Math.min(most, distance(p[i]!, p[i + 1]!, p[i + 2]!)));
      const n = gradient(distance, p[i]!, p[i + 1]!, p[i + 2]!);
      for (let k = 0; k < 3; k++) p[i + k] = p[i + k]! - 0.9 * d * n[k]!;
    }
  }
}

/** The surface with vertices that were moved onto one another joined, without the triangles that have no area then. */
export function joinNear({ positions, triangles }: Surface): Surface {
  joinNearVertices(positions, triangles);
  const { pointOfVertex, vertexOfPoint } = weldPoints(positions);
  return {
    positions: Float32Array.from(
      [...vertexOfPoint].flatMap((v) => [...positions.subarray(3 * v, 3 * v + 3)]),
    ),
    triangles: weldTriangles(triangles, pointOfVertex),
  };
}

/**
 * Fewer triangles where the surface is flat. Vertices keep their places; rows of `transferred` go with them.
 * @returns The reduced surface, and for each of its vertices the old one.
 */
export async function reduceSurface(
  surface: Surface,
  triangleCount: number,
): Promise<{ surface: Surface; sourceOfVertex: Uint32Array }> {
  await MeshoptSimplifier.ready;
  const [kept] = MeshoptSimplifier.simplify(surface.triangles, surface.positions, 3, 3 * triangleCount, 1, [
    'Regularize',
  ]);
  const newOfOld = new Map<number, number>();
  const triangles = kept.map((vertex) => {
    let index = newOfOld.get(vertex);
    if (index === undefined) {
      index = newOfOld.size;
      newOfOld.set(vertex, index);
    }
    return index;
  });
  const sourceOfVertex = Uint32Array.from(newOfOld.keys());
  const positions = new Float32Array(3 * sourceOfVertex.length);
  sourceOfVertex.forEach((old, index) => {
    positions.set(surface.positions.subarray(3 * old, 3 * old + 3), 3 * index);
  });
  return { surface: { positions, triangles }, sourceOfVertex };
}

/** Normals from the distance itself: smooth whatever the triangles. [n, 3] */
export function computeFieldNormals(
  positions: Float32Array,
  distance: DistanceFunction,
  step: number,
): Float32Array {
  const normals = new Float32Array(positions.length);
  for (let i = 0; i < positions.length; i += 3) {
    normals.set(gradient(distance, positions[i]!, positions[i + 1]!, positions[i + 2]!, step), i);
  }
  return normals;
}
