import { type MutableVector3, SpatialIndex, writeTriangleCross } from '../math/index.ts';
import { buildEdgeTable, NO_TRIANGLE } from './edge-table.ts';
import { measureCorner } from './measure-corner.ts';

export interface SignedDistance {
  /** Metres, negative inside. */
  distance: number;
  point: [number, number, number];
  triangle: number;
}

/**
 * Signed distance to a closed (or nearly closed) triangle mesh that may move.
 *
 * The sign comes from the pseudo-normal of the feature (face, edge or vertex) that the closest point lies on,
 * which is right at sharp creases where a face normal is not.
 *
 * Reference: J. A. Bærentzen and H. Aanæs, *Signed distance computation using the angle weighted
 * pseudonormal*, IEEE TVCG 11(3), 2005.
 */
export class SignedDistanceField {
  readonly #index: SpatialIndex;
  readonly #positions: Float32Array;
  readonly #triangles: Uint32Array;
  readonly #faceNormals: Float32Array;
  readonly #vertexNormals: Float32Array;
  /** triangle side → the triangle across it, [t, 3]. */
  readonly #across: Int32Array;

  /**
   * @param positions - [n, 3] metres, of points (see `weldPoints`), copied.
   * @param triangles - [t, 3], counter-clockwise seen from outside.
   */
  constructor(positions: Float32Array, triangles: Uint32Array) {
    this.#positions = positions.slice();
    this.#triangles = triangles;
    this.#index = new SpatialIndex(this.#positions, triangles);
    this.#faceNormals = new Float32Array(triangles.length);
    this.#vertexNormals = new Float32Array(positions.length);
    this.#across = findTrianglesAcross(triangles, positions.length / 3);
    this.#updateNormals();
  }

  /** Follows new positions, [n, 3]. O(n). */
  refit(positions: Float32Array): void {
    this.#positions.set(positions);
    this.#index.refit(this.#positions);
    this.#updateNormals();
  }

  /** @returns The signed distance within `maxDistance` metres of the surface, or null beyond it. */
  measure(x: number, y: number, z: number, maxDistance = Number.POSITIVE_INFINITY): SignedDistance | null {
    const closest = this.#index.findClosest(x, y, z, maxDistance);
    if (!closest) return null;
    const normal = this.#pseudoNormal(closest.triangle, closest.point);
    const side =
      (x - closest.point[0]) * normal[0] +
      (y - closest.point[1]) * normal[1] +
      (z - closest.point[2]) * normal[2];
    return {
      distance: side < 0 ? -closest.distance : closest.distance,
      point: closest.point,
      triangle: closest.triangle,
    };
  }

  #pseudoNormal(triangle: number, point: [number, number, number]): [number, number, number] {
    const weights = this.#barycentric(triangle, point);
    // Relative to the triangle, so it holds at any scale: closer than this to a side counts as on it.
    const onFeature = 1e-4;
    const small = weights.map((weight) => weight < onFeature);
    const smallCount = small.filter(Boolean).length;
    if (smallCount >= 2) {
      const corner = small.indexOf(false);
      const i = 3 * this.#triangles[3 * triangle + Math.max(corner, 0)]!;
      return [this.#vertexNormals[i]!, this.#vertexNormals[i + 1]!, this.#vertexNormals[i + 2]!];
    }
    const n = this.#faceNormals;
    const t = 3 * triangle;
    if (smallCount === 1) {
      // The side across from corner k runs from corner k+1 to corner k+2: side k+1.
      const side = (small.indexOf(true) + 1) % 3;
      const other = this.#across[t + side]!;
      if (other !== NO_TRIANGLE) {
        const o = 3 * other;
        return [n[t]! + n[o]!, n[t + 1]! + n[o + 1]!, n[t + 2]! + n[o + 2]!];
      }
    }
    return [n[t]!, n[t + 1]!, n[t + 2]!];
  }

  #barycentric(triangle: number, point: [number, number, number]): [number, number, number] {
    const p = this.#positions;
    const a = 3 * this.#triangles[3 * triangle]!;
    const b = 3 * this.#triangles[3 * triangle + 1]!;
    const c = 3 * this.#triangles[3 * triangle + 2]!;
    let d00 = 0;
    let d01 = 0;
    let d11 = 0;
    let d20 = 0;
    let d21 = 0;
    for (let k = 0; k < 3; k++) {
      const u = p[b + k]! - p[a + k]!;
      const v = p[c + k]! - p[a + k]!;
      const w = point[k]! - p[a + k]!;
      d00 += u * u;
      d01 += u * v;
      d11 += v * v;
      d20 += w * u;
      d21 += w * v;
    }
    const determinant = d00 * d11 - d01 * d01;
    if (!(determinant > 0)) return [1, 0, 0];
    const v = (d11 * d20 - d01 * d21) / determinant;
    const w = (d00 * d21 - d01 * d20) / determinant;
    return [1 - v - w, v, w];
  }

  #updateNormals(): void {
    const p = this.#positions;
    const vertexNormals = this.#vertexNormals.fill(0);
    const normal: MutableVector3 = [0, 0, 0];
    for (let t = 0; t < this.#triangles.length; t += 3) {
      const corners = [3 * this.#triangles[t]!, 3 * this.#triangles[t + 1]!, 3 * this.#triangles[t + 2]!];
      const [a, b, c] = corners as [number, number, number];
      let [nx, ny, nz] = writeTriangleCross(p, a, b, c, normal);
      const length = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
      nx /= length;
      ny /= length;
      nz /= length;
      this.#faceNormals[t] = nx;
      this.#faceNormals[t + 1] = ny;
      this.#faceNormals[t + 2] = nz;
      for (let k = 0; k < 3; k++) {
        const i = corners[k]!;
        const angle = measureCorner(p, i, corners[(k + 1) % 3]!, corners[(k + 2) % 3]!);
        vertexNormals[i] = vertexNormals[i]! + angle * nx;
        vertexNormals[i + 1] = vertexNormals[i + 1]! + angle * ny;
        vertexNormals[i + 2] = vertexNormals[i + 2]! + angle * nz;
      }
    }
  }
}

function findTrianglesAcross(triangles: Uint32Array, pointCount: number): Int32Array {
  const table = buildEdgeTable(triangles, pointCount);
  const across = new Int32Array(triangles.length).fill(NO_TRIANGLE);
  for (let e = 0; e < table.edgeCount; e++) {
    const t0 = table.triangles[2 * e]!;
    const t1 = table.triangles[2 * e + 1]!;
    if (t1 === NO_TRIANGLE) continue;
    across[3 * t0 + sideOf(triangles, t0, table.opposite[2 * e]!)] = t1;
    across[3 * t1 + sideOf(triangles, t1, table.opposite[2 * e + 1]!)] = t0;
  }
  return across;
}

/** The side of a triangle that lies across from one of its corners: side k runs from corner k to k+1. */
function sideOf(triangles: Uint32Array, triangle: number, corner: number): number {
  for (let k = 0; k < 3; k++) if (triangles[3 * triangle + k] === corner) return (k + 1) % 3;
  return 0;
}
