import type { WeldedIndex } from '../mesh/index.ts';
import type { CharacterRun } from '../run/index.ts';
import type { Box } from './skin/posed-skin.ts';

/** A surface of cloth as it is drawn: a simulated garment, or a section that follows one. */
export interface ClothSurface {
  /** Index of the garment in the run. */
  garment: number;
  /** Rows of points, the first three numbers metres; replaced or written anew each frame. */
  positions: Float32Array;
  stride: number;
  /** Rows that count. */
  points: Uint32Array;
  /** [t, 3], of rows. */
  triangles: Uint32Array;
  /** Welded vertex of the garment that each of `points` is, or leans on most. */
  welded: ArrayLike<number>;
}

/** What is seen of the garments of a run: what is drawn in the place of a sim mesh stands for it. */
export class ClothSurfaces {
  readonly #run: CharacterRun;
  readonly surfaces: ClothSurface[] = [];
  readonly #renders: { render: number; normals: Float32Array }[] = [];

  constructor(run: CharacterRun) {
    this.#run = run;
    run.garments.forEach((_, garment) => {
      const { renders = [] } = run.garments[garment]!.setup;
      if (renders.length === 0) this.#addSimulated(garment);
      else for (let render = 0; render < renders.length; render++) this.#addDrawn(garment, render);
    });
  }

  /** Brings all of them to the present frame. */
  update(): void {
    this.surfaces.forEach((surface, s) => {
      const { render, normals } = this.#renders[s]!;
      if (render < 0) surface.positions = this.#run.garments[surface.garment]!.shown;
      else this.#run.writeRender(surface.garment, render, surface.positions, normals);
    });
  }

  /** Around each surface as it stands. */
  computeBoxes(): Box[] {
    return this.surfaces.map(({ positions, stride, points }) => {
      const box: [number, number, number, number, number, number] = [
        Number.POSITIVE_INFINITY,
        Number.POSITIVE_INFINITY,
        Number.POSITIVE_INFINITY,
        Number.NEGATIVE_INFINITY,
        Number.NEGATIVE_INFINITY,
        Number.NEGATIVE_INFINITY,
      ];
      for (let i = 0; i < points.length; i++) {
        const o = stride * points[i]!;
        for (let k = 0; k < 3; k++) {
          const value = positions[o + k]!;
          if (value < box[k]!) box[k] = value;
          if (value > box[3 + k]!) box[3 + k] = value;
        }
      }
      return box;
    });
  }

  /** The welded vertex of the garment at the i-th of a surface's points. */
  nameWelded(surface: ClothSurface, i: number): WeldedIndex {
    return surface.welded[i]! as WeldedIndex;
  }

  #addSimulated(garment: number): void {
    const { shown, setup } = this.#run.garments[garment]!;
    const { pointCount, triangles, weldedOfPoint } = setup.compiled;
    const points = Uint32Array.from({ length: pointCount }, (_, p) => p);
    this.surfaces.push({ garment, positions: shown, stride: 4, points, triangles, welded: weldedOfPoint });
    this.#renders.push({ render: -1, normals: new Float32Array(0) });
  }

  #addDrawn(garment: number, render: number): void {
    const { renders, compiled } = this.#run.garments[garment]!.setup;
    const binding = renders![render]!;
    const { pointOfVertex, pointCount, start, entries, weights, vertexCount } = binding;
    const points = new Uint32Array(pointCount);
    for (let v = vertexCount - 1; v >= 0; v--) points[pointOfVertex[v]!] = v;
    const triangles = binding.triangles.map((point) => points[point]!);
    const welded = Uint32Array.from({ length: pointCount }, (_, p) => {
      const entry = start[p]!;
      const share = weights.subarray(3 * entry, 3 * entry + 3);
      const corner = share.indexOf(Math.max(...share));
      return compiled.weldedOfPoint[compiled.triangles[3 * entries[entry]! + corner]!]!;
    });
    const positions = new Float32Array(3 * vertexCount);
    this.surfaces.push({ garment, positions, stride: 3, points, triangles, welded });
    this.#renders.push({ render, normals: new Float32Array(3 * vertexCount) });
  }
}
