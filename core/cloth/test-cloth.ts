import { type Character, createRigidCharacter } from '../rig/index.ts';

/** A character of one rigid section, to hang cloth in tests without a file. */
export function createTestCharacter(positions: Float32Array, triangles: Uint32Array): Character {
  return createRigidCharacter('cloth', positions, triangles);
}

/** A flat sheet of (columns + 1) × (rows + 1) points; `position` gives the point of u, v in 0 to 1. */
export function createSheet(
  columns: number,
  rows: number,
  position: (u: number, v: number) => [number, number, number],
): { positions: Float32Array; triangles: Uint32Array } {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let r = 0; r <= rows; r++) {
    for (let c = 0; c <= columns; c++) positions.push(...position(c / columns, r / rows));
  }
  for (let r = 0; r < rows; r++) {
    for (let c = 0; c < columns; c++) {
      const a = r * (columns + 1) + c;
      const b = a + 1;
      const d = a + columns + 1;
      const e = d + 1;
      // Diagonals alternate, so that the sheet has no favoured direction.
      if ((r + c) % 2 === 0) triangles.push(a, d, e, a, e, b);
      else triangles.push(a, d, b, b, d, e);
    }
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}
