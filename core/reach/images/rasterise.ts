import type { UvMesh } from './uv-mesh.ts';

/** What each texel lies under. Rows from the top. */
export interface Coverage {
  size: number;
  /** Value at the middle of each texel, [size, size]; 0 where no triangle is. */
  texels: Float32Array;
  /** 1 under a triangle. [size, size] */
  isCovered: Uint8Array;
  covered: number;
  /** Triangles that lie over one another, a pair for each texel with two. */
  twice: [first: number, second: number][];
}

/** A texel counts as within when its middle is inside by this share of the triangle: neighbours do not both count. */
const INSIDE = 1e-4;

/**
 * Draws values at the vertices of a mesh into a square of texels, mixed over each triangle.
 * @param values - At the points of the mesh.
 */
export function rasterise(mesh: UvMesh, values: Float32Array, size: number): Coverage {
  const texels = new Float32Array(size * size);
  const isCovered = new Uint8Array(size * size);
  const owner = new Int32Array(size * size).fill(-1);
  const twice: [number, number][] = [];
  let covered = 0;
  let triangle = -1;
  let [a, b, c] = [0, 0, 0];
  visitTexels(mesh, size, (texel, t, wa, wb, wc, isInside) => {
    if (t !== triangle) {
      triangle = t;
      a = values[mesh.pointOfVertex[mesh.triangles[3 * t]!]!]!;
      b = values[mesh.pointOfVertex[mesh.triangles[3 * t + 1]!]!]!;
      c = values[mesh.pointOfVertex[mesh.triangles[3 * t + 2]!]!]!;
    }
    if (isInside) {
      if (owner[texel]! >= 0 && owner[texel] !== t) twice.push([owner[texel]!, t]);
      owner[texel] = t;
    } else if (isCovered[texel]) return;
    if (!isCovered[texel]) covered++;
    isCovered[texel] = 1;
    texels[texel] = wa * a + wb * b + wc * c;
  });
  return { size, texels, isCovered, covered, twice };
}

/** Every texel whose middle lies under a triangle, with the shares of its corners. */
function visitTexels(
  { uvs, triangles }: UvMesh,
  size: number,
  visit: (texel: number, triangle: number, wa: number, wb: number, wc: number, isInside: boolean) => void,
): void {
  for (let t = 0; t < triangles.length; t += 3) {
    // Texels are counted from their middles.
    const ax = uvs[2 * triangles[t]!]! * size - 0.5;
    const ay = uvs[2 * triangles[t]! + 1]! * size - 0.5;
    const bx = uvs[2 * triangles[t + 1]!]! * size - 0.5;
    const by = uvs[2 * triangles[t + 1]! + 1]! * size - 0.5;
    const cx = uvs[2 * triangles[t + 2]!]! * size - 0.5;
    const cy = uvs[2 * triangles[t + 2]! + 1]! * size - 0.5;
    const area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
    if (area === 0) continue;
    const x0 = Math.max(0, Math.ceil(Math.min(ax, bx, cx)));
    const x1 = Math.min(size - 1, Math.floor(Math.max(ax, bx, cx)));
    const y0 = Math.max(0, Math.ceil(Math.min(ay, by, cy)));
    const y1 = Math.min(size - 1, Math.floor(Math.max(ay, by, cy)));
    for (let y = y0; y <= y1; y++) {
      for (let x = x0; x <= x1; x++) {
        const wa = ((bx - x) * (cy - y) - (cx - x) * (by - y)) / area;
        const wb = ((cx - x) * (ay - y) - (ax - x) * (cy - y)) / area;
        const wc = 1 - wa - wb;
        const least = Math.min(wa, wb, wc);
        if (least >= -1e-9) visit(y * size + x, t / 3, wa, wb, wc, least > INSIDE);
      }
    }
  }
}
