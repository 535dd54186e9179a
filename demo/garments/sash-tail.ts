import type { Surface } from '../figure/polygonise.ts';
import { triangulateGrid } from './triangulate-grid.ts';

/** Where the sash hangs from, the middle of its top edge, and which way it faces. Metres. */
const TOP: readonly [number, number, number] = [0.169, 1.02, 0.022];
const FACING = 1.35;
const SIZE = { width: 0.085, length: 0.5, columns: 3, rows: 12 };

/** A strip that hangs from the belt over the left thigh, a little wider at its end. */
export function createSashTail(): Surface & { uvs: Float32Array } {
  const { width, length, columns, rows } = SIZE;
  const positions: number[] = [];
  const uvs: number[] = [];
  for (let r = 0; r <= rows; r++) {
    const s = r / rows;
    for (let c = 0; c <= columns; c++) {
      const across = (c / columns - 0.5) * width * (1 + 0.25 * s);
      const outward =
        0.012 + 0.03 * Math.min(1, 3 * s) + 0.012 * s - 0.006 * Math.cos((2 * Math.PI * c) / columns);
      positions.push(
        TOP[0] + across * Math.cos(FACING) + outward * Math.sin(FACING),
        TOP[1] - s * length,
        TOP[2] - across * Math.sin(FACING) + outward * Math.cos(FACING),
      );
      uvs.push(c / columns, s);
    }
  }
  return {
    positions: Float32Array.from(positions),
    triangles: triangulateGrid(columns, rows),
    uvs: Float32Array.from(uvs),
  };
}
