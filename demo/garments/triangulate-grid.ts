/**
 * Triangles of a grid of (columns + 1) × (rows + 1) vertices, row by row. Diagonals alternate, so that the cloth has
 * no favoured direction.
 */
export function triangulateGrid(columns: number, rows: number): Uint32Array {
  const triangles: number[] = [];
  for (let r = 0; r < rows; r++) {
    for (let c = 0; c < columns; c++) {
      const a = r * (columns + 1) + c;
      const b = a + columns + 1;
      if ((r + c) % 2 === 0) triangles.push(a, b, b + 1, a, b + 1, a + 1);
      else triangles.push(a, b, a + 1, a + 1, b, b + 1);
    }
  }
  return Uint32Array.from(triangles);
}
