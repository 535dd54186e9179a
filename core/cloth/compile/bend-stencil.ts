import type { EdgeTable } from '../../mesh/index.ts';
import { findHinges, type Hinges } from './hinges.ts';

/**
 * The bending of a mesh as a sparse matrix: for each point the points that share a hinge with it. Rows are filled up to
 * a multiple of four entries with the point itself, which adds nothing. The values depend on the fabric.
 */
export interface BendStencil {
  hinges: Hinges;
  /** [n + 1] */
  start: Uint32Array;
  columns: Uint32Array;
  /** Where the twelve ordered pairs of a hinge stand: (0,1) (0,2) (0,3) (1,0) … (3,2). [b, 12] */
  slots: Uint32Array;
}

/** @param rest - [n, 4] metres. @param areas - Of the triangles, [t], m². */
export function buildBendStencil(
  rest: Float32Array,
  areas: Float32Array,
  table: EdgeTable,
  pointCount: number,
): BendStencil {
  const hinges = findHinges(rest, areas, table);
  const { quads } = hinges;
  const rows: number[][] = Array.from({ length: pointCount }, () => []);
  forEachPair(quads, (i, j) => {
    if (!rows[i]!.includes(j)) rows[i]!.push(j);
  });
  const start = new Uint32Array(pointCount + 1);
  rows.forEach((row, i) => {
    start[i + 1] = start[i]! + 4 * Math.ceil(row.length / 4);
  });
  const columns = new Uint32Array(start[pointCount]!);
  rows.forEach((row, i) => {
    columns.set(row, start[i]!);
    columns.fill(i, start[i]! + row.length, start[i + 1]!);
  });
  const slots = new Uint32Array(3 * quads.length);
  let s = 0;
  forEachPair(quads, (i, j) => {
    slots[s++] = start[i]! + rows[i]!.indexOf(j);
  });
  return { hinges, start, columns, slots };
}

function forEachPair(quads: Uint32Array, each: (i: number, j: number) => void): void {
  for (let q = 0; q < quads.length; q += 4) {
    for (let i = 0; i < 4; i++) {
      for (let j = 0; j < 4; j++) if (i !== j) each(quads[q + i]!, quads[q + j]!);
    }
  }
}
