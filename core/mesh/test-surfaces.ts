import { createRandom } from '../math/index.ts';
import type { Surface } from './surface.ts';

type Position = (u: number, v: number) => [number, number, number];

/** A grid of `columns` by `rows` squares over [0, 1]², bent to places; diagonals alike. */
export function createGrid(columns: number, rows: number, position: Position): Surface {
  const width = columns + 1;
  const positions = new Float32Array(3 * width * (rows + 1));
  for (let j = 0; j <= rows; j++) {
    for (let i = 0; i <= columns; i++) positions.set(position(i / columns, j / rows), 3 * (j * width + i));
  }
  const triangles: number[] = [];
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const a = j * width + i;
      triangles.push(a, a + 1, a + width + 1, a, a + width + 1, a + width);
    }
  }
  return { positions, triangles: Uint32Array.from(triangles) };
}

/** A flared tube of `columns` by `rows` around the Y axis, closed around: a skirt. Joined where it closes. */
export function createTube(
  columns: number,
  rows: number,
  radius: (v: number, angle: number) => number,
): Surface {
  const positions = new Float32Array(3 * columns * (rows + 1));
  const triangles: number[] = [];
  for (let j = 0; j <= rows; j++) {
    for (let i = 0; i < columns; i++) {
      const angle = (2 * Math.PI * i) / columns;
      const r = radius(j / rows, angle);
      positions.set([r * Math.cos(angle), -0.7 * (j / rows), r * Math.sin(angle)], 3 * (j * columns + i));
      if (j === rows) continue;
      const [a, b] = [j * columns + i, j * columns + ((i + 1) % columns)];
      triangles.push(a, b, b + columns, a, b + columns, a + columns);
    }
  }
  return { positions, triangles: Uint32Array.from(triangles) };
}

/** A smooth surface with borders, the same for the same seed: a waved sheet, a flared tube, or a sheet with a hole. */
export function createRandomSurface(seed: number): Surface {
  const random = createRandom(seed);
  const range = (low: number, high: number): number => low + (high - low) * random();
  const [height, along, across, turn] = [range(0.02, 0.08), range(2, 6), range(2, 6), range(0.2, 1)];
  if (seed % 3 === 1) {
    const waves = Math.floor(range(2, 5));
    return createTube(96, 60, (v, angle) => 0.16 + 0.2 * v + 0.02 * v * Math.cos(waves * angle + turn));
  }
  const sheet = createGrid(70, 60, (u, v) => {
    const [x, y] = [u - 0.45, 0.8 * v];
    const z = height * Math.sin(along * u + turn) * Math.cos(across * v);
    return [x * Math.cos(turn) - z * Math.sin(turn), y, x * Math.sin(turn) + z * Math.cos(turn)];
  });
  return seed % 3 === 0 ? sheet : cutHole(sheet, range(0.3, 0.7), range(0.3, 0.7));
}

/** Drops the triangles of a 70 by 60 grid within a block around a place, and pulls the rim to a circle's radius. */
function cutHole({ positions, triangles }: Surface, u: number, v: number): Surface {
  const kept: number[] = [];
  const inside = (point: number): boolean => {
    const [i, j] = [point % 71, Math.floor(point / 71)];
    return ((i / 70 - u) / 0.16) ** 2 + ((j / 60 - v) / 0.2) ** 2 < 1;
  };
  for (let t = 0; t < triangles.length; t += 3) {
    const corners = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
    if (!corners.some(inside)) kept.push(...corners);
  }
  const numbers = new Map<number, number>();
  const ofKept: number[] = [];
  const renumbered = kept.map((point) => {
    let number = numbers.get(point);
    if (number === undefined) {
      number = numbers.size;
      numbers.set(point, number);
      ofKept.push(...positions.subarray(3 * point, 3 * point + 3));
    }
    return number;
  });
  return { positions: Float32Array.from(ofKept), triangles: Uint32Array.from(renumbered) };
}

/** A cube from -1 to 1, two triangles a face, facing outward. */
export function createCube(): Surface {
  const positions = Float32Array.from({ length: 24 }, (_, i) =>
    (Math.floor(i / 3) >> (i % 3)) & 1 ? 1 : -1,
  );
  const quads = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  return {
    positions,
    triangles: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a!, b!, c!, a!, c!, d!])),
  };
}
