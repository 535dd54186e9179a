import { buildEdgeTable, NO_TRIANGLE } from '../../mesh/index.ts';
import type { UvMesh } from './uv-mesh.ts';

const PAPER = 255;
/** Grey of edges within an island, and of its outline. */
const INNER = 190;
const OUTLINE = 40;

/**
 * The edges of a mesh in UV space as a grey picture: outlines of the islands dark, all others light, to paint over.
 * @returns [size, size], rows from the top.
 */
export function drawLayout({ uvs, triangles }: UvMesh, size: number): Uint8Array {
  const picture = new Uint8Array(size * size).fill(PAPER);
  const table = buildEdgeTable(triangles, uvs.length / 2);
  const isOutline = (e: number): boolean => table.triangles[2 * e + 1] === NO_TRIANGLE;
  for (const pass of [false, true]) {
    for (let e = 0; e < table.edgeCount; e++) {
      if (isOutline(e) !== pass) continue;
      const [a, b] = [table.edges[2 * e]!, table.edges[2 * e + 1]!];
      drawLine(
        picture,
        size,
        [uvs[2 * a]! * size, uvs[2 * a + 1]! * size],
        [uvs[2 * b]! * size, uvs[2 * b + 1]! * size],
        pass ? OUTLINE : INNER,
      );
    }
  }
  return picture;
}

/** A line one texel wide with soft sides: along its longer way, two texels share it at each step. */
function drawLine(
  picture: Uint8Array,
  size: number,
  [ax, ay]: readonly [number, number],
  [bx, by]: readonly [number, number],
  grey: number,
): void {
  const isSteep = Math.abs(by - ay) > Math.abs(bx - ax);
  const [from, to] = isSteep ? [ay, by] : [ax, bx];
  const low = Math.max(0, Math.floor(Math.min(from, to)));
  const high = Math.min(size - 1, Math.floor(Math.max(from, to)));
  for (let main = low; main <= high; main++) {
    const share = to === from ? 0 : Math.min(1, Math.max(0, (main + 0.5 - from) / (to - from)));
    const across = (isSteep ? ax + share * (bx - ax) : ay + share * (by - ay)) - 0.5;
    const first = Math.floor(across);
    for (const [place, cover] of [
      [first, 1 - (across - first)],
      [first + 1, across - first],
    ] as const) {
      if (place < 0 || place >= size) continue;
      const at = isSteep ? main * size + place : place * size + main;
      picture[at] = Math.min(picture[at]!, Math.round(PAPER + cover * (grey - PAPER)));
    }
  }
}
