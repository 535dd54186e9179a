import type { CharacterRun } from '../run/index.ts';

interface DrawnSection {
  garment: number;
  render: number;
  positions: Float32Array;
  normals: Float32Array;
  /** First vertex of each point. */
  vertices: Uint32Array;
  /** Welded vertex that each leans on most. */
  leansOn: Uint32Array;
}

/** The points of sections that are drawn in the place of simulated ones: what is seen, and so what may show skin. */
export class DrawnPoints {
  readonly #run: CharacterRun;
  readonly #sections: DrawnSection[];

  constructor(run: CharacterRun) {
    this.#run = run;
    this.#sections = run.garments.flatMap(({ setup }, garment) =>
      (setup.renders ?? []).map((binding, render): DrawnSection => {
        const { pointOfVertex, pointCount, start, entries, weights, vertexCount } = binding;
        const { triangles, weldedOfPoint } = setup.compiled;
        const vertices = new Uint32Array(pointCount);
        for (let v = vertexCount - 1; v >= 0; v--) vertices[pointOfVertex[v]!] = v;
        const leansOn = Uint32Array.from({ length: pointCount }, (_, p) => {
          const entry = start[p]!;
          const share = weights.subarray(3 * entry, 3 * entry + 3);
          const corner = share.indexOf(Math.max(...share));
          return weldedOfPoint[triangles[3 * entries[entry]! + corner]!]!;
        });
        const positions = new Float32Array(3 * vertexCount);
        return { garment, render, positions, normals: new Float32Array(3 * vertexCount), vertices, leansOn };
      }),
    );
  }

  /** Goes over all of them as they stand now. @param point - Of the garment, that it leans on most. */
  visit(look: (garment: number, point: number, x: number, y: number, z: number) => void): void {
    for (const { garment, render, positions, normals, vertices, leansOn } of this.#sections) {
      this.#run.writeRender(garment, render, positions, normals);
      vertices.forEach((vertex, p) => {
        look(
          garment,
          leansOn[p]!,
          positions[3 * vertex]!,
          positions[3 * vertex + 1]!,
          positions[3 * vertex + 2]!,
        );
      });
    }
  }
}
