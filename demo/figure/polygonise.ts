import type { DistanceFunction } from './distance.ts';

export interface Surface {
  /** [n, 3] */
  positions: Float32Array;
  /** [t, 3], counter-clockwise seen from outside. */
  triangles: Uint32Array;
}

/** Cells along one side of a block; blocks far from the surface are never sampled. */
const BLOCK = 8;

/**
 * Turns the zero set of a distance into triangles: one vertex in each cell that the surface crosses, at the mean
 * of its edge crossings; a quad across each crossed edge.
 *
 * @param fieldNear - Gives a distance function that is right within a ball (x, y, z, radius); called once a block.
 * @param bounds - Least and most corner, metres. @param cell - Size of a cell, metres.
 *
 * Reference: S. F. F. Gibson, *Constrained elastic surface nets*, MICCAI 1998.
 */
export function polygonise(
  fieldNear: (near: readonly [number, number, number, number]) => DistanceFunction,
  bounds: readonly [number, number, number, number, number, number],
  cell: number,
): Surface {
  const counts = [0, 1, 2].map((k) => Math.ceil((bounds[3 + k]! - bounds[k]!) / cell));
  const [nx, ny, nz] = counts as [number, number, number];
  const cornerX = nx + 1;
  const cornerXY = cornerX * (ny + 1);
  const samples = new Map<number, number>();
  const half = (BLOCK * cell * Math.sqrt(3)) / 2;
  for (let bz = 0; bz < nz; bz += BLOCK) {
    for (let by = 0; by < ny; by += BLOCK) {
      for (let bx = 0; bx < nx; bx += BLOCK) {
        const middle = [bx, by, bz].map((b, k) => bounds[k]! + (b + BLOCK / 2) * cell) as [
          number,
          number,
          number,
        ];
        const field = fieldNear([...middle, half]);
        // 1.2: the distance may fall short of the true one, so look a little farther.
        if (Math.abs(field(...middle)) > 1.2 * half) continue;
        for (let z = bz; z <= Math.min(bz + BLOCK, nz); z++) {
          for (let y = by; y <= Math.min(by + BLOCK, ny); y++) {
            for (let x = bx; x <= Math.min(bx + BLOCK, nx); x++) {
              const id = x + cornerX * y + cornerXY * z;
              if (samples.has(id)) continue;
              samples.set(id, field(bounds[0] + x * cell, bounds[1] + y * cell, bounds[2] + z * cell));
            }
          }
        }
      }
    }
  }
  return joinCells(samples, [cornerX, cornerXY], bounds, cell);
}

const CORNERS: readonly (readonly [number, number, number])[] = [0, 1, 2, 3, 4, 5, 6, 7].map((c) => [
  c & 1,
  (c >> 1) & 1,
  c >> 2,
]);
const EDGES: readonly (readonly [number, number])[] = [
  [0, 1],
  [2, 3],
  [4, 5],
  [6, 7],
  [0, 2],
  [1, 3],
  [4, 6],
  [5, 7],
  [0, 4],
  [1, 5],
  [2, 6],
  [3, 7],
];

function joinCells(
  samples: Map<number, number>,
  [cornerX, cornerXY]: [number, number],
  bounds: readonly number[],
  cell: number,
): Surface {
  const cornerOffsets = CORNERS.map(([x, y, z]) => x + cornerX * y + cornerXY * z);
  const vertexOfCell = new Map<number, number>();
  const positions: number[] = [];
  for (const id of samples.keys()) {
    const values = cornerOffsets.map((offset) => samples.get(id + offset));
    if (values.some((value) => value === undefined)) continue;
    const inside = values.filter((value) => value! < 0).length;
    if (inside === 0 || inside === 8) continue;
    const sum = [0, 0, 0];
    let crossings = 0;
    for (const [p, q] of EDGES) {
      const vp = values[p]!;
      const vq = values[q]!;
      if (vp < 0 === vq < 0) continue;
      const t = vp / (vp - vq);
      for (let k = 0; k < 3; k++)
        sum[k] = sum[k]! + CORNERS[p]![k]! + t * (CORNERS[q]![k]! - CORNERS[p]![k]!);
      crossings++;
    }
    vertexOfCell.set(id, positions.length / 3);
    const at = [id % cornerX, Math.floor((id % cornerXY) / cornerX), Math.floor(id / cornerXY)];
    for (let k = 0; k < 3; k++) positions.push(bounds[k]! + (at[k]! + sum[k]! / crossings) * cell);
  }
  const triangles: number[] = [];
  const steps = [1, cornerX, cornerXY];
  for (const [id, value] of samples) {
    for (let axis = 0; axis < 3; axis++) {
      const other = samples.get(id + steps[axis]!);
      if (other === undefined || value < 0 === other < 0) continue;
      // The four cells round the edge, in the order of a right-handed turn about the axis.
      const u = steps[(axis + 1) % 3]!;
      const v = steps[(axis + 2) % 3]!;
      const corners = [id - u - v, id - v, id, id - u].map((at) => vertexOfCell.get(at));
      if (corners.some((corner) => corner === undefined)) continue;
      const [a, b, c, d] = corners as [number, number, number, number];
      if (value < 0) triangles.push(a, b, c, a, c, d);
      else triangles.push(a, c, b, a, d, c);
    }
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}
