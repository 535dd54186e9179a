import type { UvMesh } from './uv-mesh.ts';

/** The four texels around a place and their shares, as a bilinear filter takes them. Reused: read it at once. */
export interface Footprint {
  texels: Uint32Array;
  shares: Float64Array;
}

/** A footprint to be filled: nothing is allocated in a loop. */
export function createFootprint(): Footprint {
  return { texels: new Uint32Array(4), shares: new Float64Array(4) };
}

/** @param width, height - Of the image, texels. Beyond its edge the image goes on as at the edge. */
export function findFootprint(
  u: number,
  v: number,
  width: number,
  height: number,
  out: Footprint,
): Footprint {
  const x = Math.min(width - 1, Math.max(0, u * width - 0.5));
  const y = Math.min(height - 1, Math.max(0, v * height - 0.5));
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [x1, y1] = [Math.min(width - 1, x0 + 1), Math.min(height - 1, y0 + 1)];
  const [fx, fy] = [x - x0, y - y0];
  out.texels.set([y0 * width + x0, y0 * width + x1, y1 * width + x0, y1 * width + x1]);
  out.shares.set([(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy]);
  return out;
}

/** Vertices that triangles of a mesh use. */
export function listUsedVertices({ triangles }: Pick<UvMesh, 'triangles'>): Uint32Array {
  return Uint32Array.from(new Set(triangles)).sort();
}

/**
 * Reads an image at the points of a mesh. A point on a seam has several places in the image: their mean counts.
 *
 * @param levels - [height, width], rows from the top.
 * @returns [points]; NaN for points that no triangle uses.
 */
export function sampleAtPoints(
  mesh: UvMesh,
  { width, height, levels }: { width: number; height: number; levels: ArrayLike<number> },
): Float64Array {
  const sums = new Float64Array(mesh.pointCount);
  const counts = new Uint32Array(mesh.pointCount);
  const footprint = createFootprint();
  for (const vertex of listUsedVertices(mesh)) {
    const { texels, shares } = findFootprint(
      mesh.uvs[2 * vertex]!,
      mesh.uvs[2 * vertex + 1]!,
      width,
      height,
      footprint,
    );
    let level = 0;
    for (let k = 0; k < 4; k++) if (shares[k]! > 0) level += shares[k]! * levels[texels[k]!]!;
    const point = mesh.pointOfVertex[vertex]!;
    sums[point] = sums[point]! + level;
    counts[point] = counts[point]! + 1;
  }
  return sums.map((sum, point) => (counts[point]! > 0 ? sum / counts[point]! : Number.NaN));
}
