import { createRandom } from '../math/index.ts';
import { EditableMesh } from './remesh/editable-mesh.ts';
import type { Surface } from './surface.ts';
import { createGrid, createRandomSurface } from './test-surfaces.ts';

export interface UglySurface {
  name: string;
  surface: Surface;
  /** An edge length, m, that makes sense for it. */
  edgeLength: number;
  /** It is no thinner anywhere than this, m. */
  thickness: number;
}

/** A flat square of so many triangles: 2 by its diagonal, or more around its middle. */
export function createSquare(side: number, around = 0): Surface {
  const corners = [0, 0, 0, side, 0, 0, side, side, 0, 0, side, 0];
  if (around === 0) return asSurface(corners, [0, 1, 2, 0, 2, 3]);
  return asSurface([...corners, side / 2, side / 2, 0], [0, 1, 4, 1, 2, 4, 2, 3, 4, 3, 0, 4]);
}

/** A tube of n sides about the Y axis, open at both ends, or closed by fans. Two triangles a side and ring. */
export function createSleeve(
  sides: number,
  radius: number,
  length: number,
  { rings = 1, isClosed = false }: { rings?: number; isClosed?: boolean } = {},
): Surface {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let j = 0; j <= rings; j++) {
    for (let i = 0; i < sides; i++) {
      const angle = (2 * Math.PI * i) / sides + 0.1;
      positions.push(radius * Math.cos(angle), (length * j) / rings, radius * Math.sin(angle));
    }
  }
  for (let j = 0; j < rings; j++) {
    for (let i = 0; i < sides; i++) {
      const [a, b] = [j * sides + i, j * sides + ((i + 1) % sides)];
      triangles.push(a, a + sides, b + sides, a, b + sides, b);
    }
  }
  if (isClosed) {
    const [low, high] = [positions.length / 3, positions.length / 3 + 1];
    positions.push(0, -0.3 * radius, 0, 0, length + 0.3 * radius, 0);
    for (let i = 0; i < sides; i++) {
      const [a, b] = [i, (i + 1) % sides];
      triangles.push(a, b, low, rings * sides + b, rings * sides + a, high);
    }
  }
  return asSurface(positions, triangles);
}

/**
 * The skin of filled cells of a grid, two triangles a side: boxes, crosses, hands.
 * @param cells - Filled cells, which may touch along faces only. @param size - Of a cell, m.
 */
export function createCells(
  cells: readonly (readonly [number, number, number])[],
  size: readonly [number, number, number],
): Surface {
  const filled = new Set(cells.map((cell) => cell.join()));
  const numbers = new Map<string, number>();
  const positions: number[] = [];
  const triangles: number[] = [];
  const point = (place: readonly number[]): number => {
    const key = place.join();
    const known = numbers.get(key);
    if (known !== undefined) return known;
    positions.push(...place.map((value, k) => value * size[k]!));
    numbers.set(key, numbers.size);
    return numbers.size - 1;
  };
  for (const cell of cells) {
    for (let k = 0; k < 3; k++) {
      for (const way of [0, 1]) {
        const beside = cell.map((value, i) => (i === k ? value + 2 * way - 1 : value));
        if (filled.has(beside.join())) continue;
        const at = (u: number, v: number): number =>
          point(cell.map((value, i) => value + (i === k ? way : i === (k + 1) % 3 ? u : v)));
        const [a, b, c, d] = [at(0, 0), at(1, 0), at(1, 1), at(0, 1)];
        triangles.push(...(way === 1 ? [a, b, c, a, c, d] : [a, c, b, a, d, c]));
      }
    }
  }
  return asSurface(positions, triangles);
}

/** Four fingers on a palm; a finger is as thick as a cell, m. */
export function createHand(finger: number): Surface {
  const cells: [number, number, number][] = [];
  for (let x = 0; x < 7; x++) for (let y = 0; y < 5; y++) cells.push([x, y, 0]);
  for (const x of [0, 2, 4, 6]) for (let y = 5; y < 10; y++) cells.push([x, y, 0]);
  return createCells(cells, [finger, 1.2 * finger, finger]);
}

/** A heap of cells that grew at random: steps, holes through it, edges at which four sides meet. */
export function createHeap(count: number, size: number, seed: number): Surface {
  const random = createRandom(seed);
  const cells: [number, number, number][] = [[0, 0, 0]];
  const known = new Set(['0,0,0']);
  while (cells.length < count) {
    const cell = [...cells[Math.floor(random() * cells.length)]!] as [number, number, number];
    const axis = Math.floor(3 * random());
    cell[axis] = cell[axis]! + (random() < 0.5 ? -1 : 1);
    if (known.has(cell.join())) continue;
    known.add(cell.join());
    cells.push(cell);
  }
  return createCells(cells, [size, size, size]);
}

/** A closed ball drawn out to thin spikes, smooth otherwise: fingers, ears, tails. Its points lie by rows. */
export function createSpiky(rows: number, radius: number, seed: number): Surface {
  const random = createRandom(seed);
  const spikes = Array.from({ length: 6 }, () => {
    const [turn, height] = [2 * Math.PI * random(), 2 * random() - 1];
    const flat = Math.sqrt(1 - height * height);
    return [flat * Math.cos(turn), height, flat * Math.sin(turn)];
  });
  const drawOut = (x: number, y: number, z: number): number[] => {
    const along = Math.max(...spikes.map((spike) => x * spike[0]! + y * spike[1]! + z * spike[2]!));
    const r = radius * (1 + 1.5 * Math.max(0, along) ** 60 + 0.1 * Math.sin(5 * y + 3 * x));
    return [r * x, r * y, r * z];
  };
  const columns = 2 * rows;
  const positions = [...drawOut(0, 1, 0), ...drawOut(0, -1, 0)];
  for (let j = 1; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const [down, turn] = [(Math.PI * j) / rows, (2 * Math.PI * i) / columns];
      positions.push(
        ...drawOut(Math.sin(down) * Math.cos(turn), Math.cos(down), Math.sin(down) * Math.sin(turn)),
      );
    }
  }
  const at = (j: number, i: number): number => 2 + (j - 1) * columns + (i % columns);
  const triangles: number[] = [];
  for (let i = 0; i < columns; i++) {
    triangles.push(0, at(1, i + 1), at(1, i), 1, at(rows - 1, i), at(rows - 1, i + 1));
    for (let j = 1; j + 1 < rows; j++) {
      triangles.push(at(j, i), at(j, i + 1), at(j + 1, i + 1), at(j, i), at(j + 1, i + 1), at(j + 1, i));
    }
  }
  return asSurface(positions, triangles);
}

/** A star of some points in the XY plane, of a thickness, closed. */
export function createStar(points: number, radius: number, thickness: number): Surface {
  const positions: number[] = [];
  const triangles: number[] = [];
  const count = 2 * points;
  for (const z of [0, thickness]) {
    for (let i = 0; i < count; i++) {
      const r = i % 2 === 0 ? radius : 0.4 * radius;
      const angle = (Math.PI * i) / points;
      positions.push(r * Math.cos(angle), r * Math.sin(angle), z);
    }
  }
  positions.push(0, 0, 0, 0, 0, thickness);
  for (let i = 0; i < count; i++) {
    const j = (i + 1) % count;
    triangles.push(2 * count, j, i, 2 * count + 1, count + i, count + j);
    triangles.push(i, j, count + j, i, count + j, count + i);
  }
  return asSurface(positions, triangles);
}

/** Two sheets that face away from each other, a thickness apart, curved; joined along a rim of their own, or not at all. */
export function createTwoSided(columns: number, rows: number, thickness: number, hasRim: boolean): Surface {
  const sheet = (z: number): Surface => createGrid(columns, rows, (u, v) => [u + 0.1, v, z + 0.1 * u * u]);
  const [back, front] = [sheet(0), sheet(thickness)];
  const first = front.positions.length / 3;
  const triangles = [...front.triangles];
  for (let t = 0; t < back.triangles.length; t += 3)
    triangles.push(
      first + back.triangles[t]!,
      first + back.triangles[t + 2]!,
      first + back.triangles[t + 1]!,
    );
  if (hasRim) {
    const width = columns + 1;
    const around: number[] = [];
    for (let i = 0; i < columns; i++) around.push(i);
    for (let j = 0; j < rows; j++) around.push(j * width + columns);
    for (let i = columns; i > 0; i--) around.push(rows * width + i);
    for (let j = rows; j > 0; j--) around.push(j * width);
    around.forEach((a, k) => {
      const b = around[(k + 1) % around.length]!;
      triangles.push(a, first + a, first + b, a, first + b, b);
    });
  }
  return asSurface([...front.positions, ...back.positions], triangles);
}

/** All of some surfaces as one, each moved along X so that they lie apart. */
export function createPieces(surfaces: readonly Surface[], apart: number): Surface {
  const positions: number[] = [];
  const triangles: number[] = [];
  surfaces.forEach((surface, s) => {
    const first = positions.length / 3;
    surface.positions.forEach((value, i) => {
      positions.push(i % 3 === 0 ? value + s * apart : value);
    });
    for (const point of surface.triangles) triangles.push(first + point);
  });
  return asSurface(positions, triangles);
}

/** Some of its triangles once more. */
export function doubleTriangles({ positions, triangles }: Surface, count: number, seed: number): Surface {
  const random = createRandom(seed);
  const more = Array.from({ length: count }, () => {
    const t = 3 * Math.floor((random() * triangles.length) / 3);
    return [...triangles.subarray(t, t + 3)];
  });
  return asSurface(positions, [...triangles, ...more.flat()]);
}

/** Some of its triangles facing the other way. */
export function turnTriangles({ positions, triangles }: Surface, count: number, seed: number): Surface {
  const random = createRandom(seed);
  const turned = triangles.slice();
  for (let i = 0; i < count; i++) {
    const t = 3 * Math.floor((random() * triangles.length) / 3);
    turned[t] = triangles[t + 1]!;
    turned[t + 1] = triangles[t]!;
  }
  return { positions, triangles: turned };
}

/** A triangle that stands on the edge of two others: three meet there. */
export function addFin({ positions, triangles }: Surface, triangle: number, height: number): Surface {
  const [a, b] = [triangles[3 * triangle]!, triangles[3 * triangle + 1]!];
  const middle = [0, 1, 2].map((k) => 0.5 * (positions[3 * a + k]! + positions[3 * b + k]!));
  return asSurface(
    [...positions, middle[0]!, middle[1]!, middle[2]! + height],
    [...triangles, a, b, positions.length / 3],
  );
}

/** Two squares that share one corner and nothing else. */
export function createTouching(side: number): Surface {
  const far = (x: number, y: number): number[] => [x * side, y * side, 0];
  return asSurface(
    [...far(0, 0), ...far(1, 0), ...far(1, 1), ...far(0, 1), ...far(2, 1), ...far(2, 2), ...far(1, 2)],
    [0, 1, 2, 0, 2, 3, 2, 4, 5, 2, 5, 6],
  );
}

/** A large triangle beside two smaller ones whose common corner lies on its edge: open there by no width. */
export function createTJunction(side: number): Surface {
  return asSurface(
    [0, 0, 0, side, 0, 0, side / 2, side, 0, side / 2, 0, 0, 0, -side, 0, side, -side, 0],
    [0, 1, 2, 0, 4, 3, 4, 5, 3, 3, 5, 1],
  );
}

/** A sheet with rows so close to one another that their triangles have angles of about so many degrees. */
export function createSlivers(degrees: number): Surface {
  const gap = (Math.tan((degrees * Math.PI) / 180) / 10) * 2;
  return createGrid(10, 20, (u, v) => {
    const row = Math.round(20 * v);
    return [u + 0.2, Math.floor(row / 2) / 10 + (row % 2) * gap, 0.05 * Math.sin(5 * u)];
  });
}

/** A smooth surface with most of its points taken away at random: uneven, low-poly. */
export function decimateRandomly(surface: Surface, share: number, seed: number): Surface {
  const random = createRandom(seed);
  const mesh = new EditableMesh(surface);
  let left = Math.floor((1 - share) * mesh.pointCount);
  for (let round = 0; round < 40 && left > 0; round++) {
    const edges = mesh.listEdges();
    for (let i = 0; i < edges.length / 8 && left > 0; i++) {
      const at = 2 * Math.floor((random() * edges.length) / 2);
      const [a, b] = [edges[at]!, edges[at + 1]!];
      if (!mesh.isAlive(a) || !mesh.isAlive(b) || mesh.isBorder[b] || !mesh.canCollapse(a, b)) continue;
      const place = mesh.positions.slice(3 * a, 3 * a + 3) as [number, number, number];
      if (!mesh.keepsShape(b, a, place)) continue;
      mesh.collapse(a, b);
      left--;
    }
  }
  return mesh.compact().surface;
}

/** The same larger or smaller, turned, and elsewhere. */
export function placeElsewhere({ positions, triangles }: Surface, scale: number, away: number): Surface {
  const moved = positions.slice();
  for (let i = 0; i < moved.length; i += 3) {
    const [x, y, z] = [positions[i]!, positions[i + 1]!, positions[i + 2]!];
    moved.set([scale * (0.8 * x - 0.6 * z) + away, scale * y - away, scale * (0.6 * x + 0.8 * z)], i);
  }
  return { positions: moved, triangles };
}

/** All kinds of what makes remeshing hard, the same for the same seed. Thin sheets count as endlessly thick. */
export function listUglySurfaces(seed = 1): UglySurface[] {
  const flat = Number.POSITIVE_INFINITY;
  const list: UglySurface[] = [];
  const add = (name: string, surface: Surface, edgeLength: number, thickness: number): void => {
    list.push({ name, surface, edgeLength, thickness });
  };
  add('a square of 2 triangles', createSquare(1), 0.05, flat);
  add('a square of 4 triangles', createSquare(1, 4), 0.05, flat);
  for (const sides of [3, 4, 5, 8, 12]) {
    add(`a sleeve of ${sides} sides`, createSleeve(sides, 0.05, 0.4), 0.02, 0.07);
    add(`a limb of ${sides} sides`, createSleeve(sides, 0.05, 0.4, { rings: 2, isClosed: true }), 0.02, 0.05);
  }
  add('a box', createCells([[0, 0, 0]], [1, 0.5, 0.7]), 0.05, 0.5);
  add('a hand', createHand(0.018), 0.008, 0.018);
  add(
    'a cross',
    createCells(
      [
        [0, 0, 0],
        [1, 0, 0],
        [-1, 0, 0],
        [0, 1, 0],
        [0, -1, 0],
        [0, 0, 1],
        [0, 0, -1],
      ],
      [0.1, 0.1, 0.1],
    ),
    0.03,
    0.1,
  );
  add('a star', createStar(5, 0.3, 0.06), 0.02, 0.06);
  add('a heap', createHeap(30, 0.1, seed), 0.04, 0.1);
  for (const kept of [1, 0.3, 0.08]) {
    const ball = createSpiky(40, 0.2, seed);
    add(
      `a spiky ball, ${100 * kept} % kept`,
      kept < 1 ? decimateRandomly(ball, kept, seed) : ball,
      0.03,
      0.03,
    );
  }
  add('two sides with a rim', createTwoSided(10, 10, 0.03, true), 0.08, 0.03);
  add('two sides without a rim', createTwoSided(10, 10, 0.03, false), 0.05, flat);
  add(
    'many pieces',
    createPieces(
      [
        createSquare(0.2),
        createCells([[0, 0, 0]], [0.1, 0.1, 0.1]),
        createStar(4, 0.1, 0.04),
        createSleeve(5, 0.05, 0.2),
        createSleeve(3, 0.04, 0.2, { isClosed: true }),
      ],
      0.3,
    ),
    0.02,
    0.03,
  );
  const tube = createSleeve(12, 0.1, 0.6, { rings: 8 });
  add('doubled triangles', doubleTriangles(tube, 5, seed), 0.03, 0.2);
  add('turned triangles', turnTriangles(tube, 10, seed), 0.03, 0.2);
  add('a fin', addFin(createSquare(1, 4), 0, 0.3), 0.06, flat);
  add(
    'a fin on an inner edge',
    addFin(
      createGrid(4, 4, (u, v) => [u + 0.1, v, 0]),
      12,
      0.3,
    ),
    0.06,
    flat,
  );
  add('squares that touch', createTouching(0.5), 0.04, flat);
  add('a T-junction', createTJunction(0.5), 0.04, flat);
  for (const degrees of [1, 0.1, 0.01]) add(`slivers of ${degrees}°`, createSlivers(degrees), 0.05, flat);
  for (const kept of [0.2, 0.05])
    for (let i = 0; i < 3; i++)
      add(
        `random surface ${seed + i}, ${100 * kept} % kept`,
        decimateRandomly(createRandomSurface(seed + i), kept, seed + i),
        0.04,
        flat,
      );
  const limb = createSleeve(6, 0.05, 0.4, { rings: 3, isClosed: true });
  for (const [scale, away] of [
    [0.02, 0],
    [200, 0],
    [1, 50],
    [1, -800],
  ] as const)
    add(
      `a limb times ${scale}, ${away} m away`,
      placeElsewhere(limb, scale, away),
      0.02 * scale,
      0.08 * scale,
    );
  return list;
}

function asSurface(positions: ArrayLike<number>, triangles: ArrayLike<number>): Surface {
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}
