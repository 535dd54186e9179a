/** A regular grid around the vertical, wider below. */
export interface TubeShape {
  columns: number;
  rows: number;
  isOpen: boolean;
  top: number;
  height: number;
  /** Radius above and below, m. */
  radii: readonly [number, number];
}

export interface TubeMesh {
  /** [v, 3] */
  positions: Float32Array;
  normals: Float32Array;
  triangles: Uint32Array;
}

/** Share of the way around that is missing of an open one. */
const GAP = 0.06;

/** @param place - Moves each vertex before it is laid: row and column, as numbers that need not be whole. */
export function createTube(
  { columns, rows, isOpen, top, height, radii }: TubeShape,
  place: (row: number, column: number) => readonly [number, number] = (row, column) => [row, column],
): TubeMesh {
  const positions: number[] = [];
  const normals: number[] = [];
  for (let r = 0; r < rows; r++) {
    for (let c = 0; c < columns; c++) {
      const [row, column] = place(r, c);
      const down = row / (rows - 1);
      const around = isOpen ? GAP / 2 + ((1 - GAP) * column) / (columns - 1) : column / columns;
      const angle = 2 * Math.PI * (around + 0.25);
      const radius = radii[0] + (radii[1] - radii[0]) * down;
      positions.push(radius * Math.cos(angle), top - height * down, radius * Math.sin(angle));
      normals.push(Math.cos(angle), 0, Math.sin(angle));
    }
  }
  const triangles: number[] = [];
  const last = isOpen ? columns - 1 : columns;
  for (let r = 0; r + 1 < rows; r++) {
    for (let c = 0; c < last; c++) {
      const a = r * columns + c;
      const b = r * columns + ((c + 1) % columns);
      const [d, e] = [a + columns, b + columns];
      if ((r + c) % 2 === 0) triangles.push(a, e, d, a, b, e);
      else triangles.push(a, b, d, b, e, d);
    }
  }
  return {
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    triangles: Uint32Array.from(triangles),
  };
}
