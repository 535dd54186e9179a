import { computeTriangleAreas, computeVertexNormals } from '../../mesh/index.ts';
import type { ClothSurface } from '../cloth-surfaces.ts';
import { PointGrid } from '../skin/point-grid.ts';
import type { Underlay } from './underlay.ts';

interface Part {
  surface: ClothSurface;
  /** First of its points in the underlay. */
  first: number;
  /** Over its points, from 0. [t, 3] */
  triangles: Uint32Array;
}

/** The points of garments that others are worn over, as they stand. */
export class InnerGarments {
  readonly underlay: Underlay;
  readonly #normals: Float32Array;
  readonly #parts: Part[] = [];
  readonly #all: Uint32Array;

  /** @param surfaces - Of the inner garments, where they stand at first. */
  constructor(surfaces: readonly ClothSurface[]) {
    let count = 0;
    for (const surface of surfaces) {
      const numberOf = new Map(Array.from(surface.points, (row, i) => [row, i]));
      const triangles = surface.triangles.map((row) => numberOf.get(row)!);
      this.#parts.push({ surface, first: count, triangles });
      count += surface.points.length;
    }
    this.#all = Uint32Array.from({ length: count }, (_, i) => i);
    const garments = new Int32Array(count);
    for (const { surface, first } of this.#parts)
      garments.fill(surface.garment, first, first + surface.points.length);
    const normals = new Float32Array(3 * count);
    this.#normals = normals;
    this.underlay = {
      positions: new Float32Array(3 * count),
      areas: new Float32Array(count),
      // Cloth has no other side that could lie outside.
      thickness: new Float32Array(count).fill(Number.POSITIVE_INFINITY),
      grid: new PointGrid(),
      garments,
      writeNormal: (point, out) => {
        for (let k = 0; k < 3; k++) out[k] = normals[3 * point + k]!;
      },
    };
    this.follow();
    this.#measureAreas();
  }

  /** Takes where the surfaces stand now. */
  follow(): void {
    const { positions, grid } = this.underlay;
    for (const { surface, first, triangles } of this.#parts) {
      const { points, stride, positions: x } = surface;
      for (let i = 0; i < points.length; i++) {
        const from = stride * points[i]!;
        const to = 3 * (first + i);
        positions[to] = x[from]!;
        positions[to + 1] = x[from + 1]!;
        positions[to + 2] = x[from + 2]!;
      }
      const [start, end] = [3 * first, 3 * (first + points.length)];
      computeVertexNormals(positions.subarray(start, end), triangles, this.#normals.subarray(start, end));
    }
    grid.fill(positions, this.#all, this.#all.length);
  }

  #measureAreas(): void {
    const { positions, areas } = this.underlay;
    for (const { first, triangles } of this.#parts) {
      computeTriangleAreas(positions.subarray(3 * first), triangles).forEach((area, t) => {
        for (let k = 3 * t; k < 3 * t + 3; k++)
          areas[first + triangles[k]!] = areas[first + triangles[k]!]! + area / 3;
      });
    }
  }
}
