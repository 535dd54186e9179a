import { SpatialIndex } from '../../core/math/index.ts';
import { type DistanceFunction, smoothMin } from '../figure/distance.ts';
import {
  evenOut,
  type Position,
  type Profile,
  pushOut,
  type Sheet,
  samplePolyline,
  toSheet,
} from './sheet.ts';

/** Lines down the front, the back and the side of the trunk: outward from the spine, height. Metres. */
const SMOCK_FRONT: Profile = [
  [0.125, 1.2],
  [0.124, 1.12],
  [0.136, 1.02],
  [0.16, 0.9],
  [0.178, 0.83],
];
const SMOCK_BACK: Profile = [
  [0.12, 1.2],
  [0.12, 1.12],
  [0.138, 1.01],
  [0.172, 0.9],
  [0.188, 0.83],
];
const SMOCK_SIDE: Profile = [
  [0.142, 1.15],
  [0.146, 1.1],
  [0.166, 1.01],
  [0.202, 0.9],
  [0.222, 0.83],
];
const SMOCK = { columns: 32, rows: 8, offset: 0.012 };

/** The Lamplighter's under-smock from the waist to over the hips, close to the trunk and wide at its hem. */
export function createSmock(distance: DistanceFunction): Sheet {
  const { columns, rows, offset } = SMOCK;
  const grid = Array.from({ length: rows + 1 }, (_, row) =>
    Array.from({ length: columns }, (_, c) => placeAround(row / rows, (2 * Math.PI * c) / columns)),
  );
  for (let pass = 0; pass < 30; pass++) {
    evenOut(grid, 0.3);
    // Its top edge lies close, as if it were sewn to the shirt.
    grid.forEach((line, row) => {
      for (const p of line) pushOut(p, distance, offset * Math.min(1, 0.3 + 0.2 * row));
    });
  }
  return toSheet(grid);
}

function placeAround(s: number, angle: number): Position {
  const side = Math.abs(Math.sin(angle)) ** 1.6;
  const middle = samplePolyline(Math.cos(angle) >= 0 ? SMOCK_FRONT : SMOCK_BACK, s);
  const flank = samplePolyline(SMOCK_SIDE, s);
  const fold = 1 + 0.05 * s * s * Math.sin(8 * angle + 0.4);
  return [
    flank[0] * Math.sin(angle) * fold,
    middle[1] + side * (flank[1] - middle[1]),
    middle[0] * Math.cos(angle) * fold,
  ];
}

const APRON = {
  columns: 18,
  rows: 9,
  /** Half of the way around the waist, rad. */
  reach: 1.72,
  top: 1.075,
  length: 0.345,
  /** Rows above the split. */
  splitRow: 3,
  /** From the smock beneath, m. */
  offset: 0.011,
};

/**
 * The split work apron: an open sheet around the front from the belt to above the knees, parted in the middle. The two
 * sides of the split are two columns that stand a little apart.
 *
 * @param distance - Signed distance to the body. @param smock - Lies beneath.
 */
export function createApron(distance: DistanceFunction, smock: Sheet): Sheet {
  const { columns, rows, reach, top, length, splitRow, offset } = APRON;
  const outside = layOver(distance, smock);
  const half = columns / 2;
  const grid = Array.from({ length: rows + 1 }, (_, row) => {
    const s = row / rows;
    return Array.from({ length: columns + 1 }, (_, c): Position => {
      const angle = (reach * (c - half)) / half;
      const wide = 1 + 0.42 * s;
      const y = top - length * s * (1 - 0.06 * Math.abs(Math.sin(angle)));
      return [0.168 * wide * Math.sin(angle), y, 0.146 * wide * Math.cos(angle)];
    });
  });
  for (let pass = 0; pass < 30; pass++) {
    evenOut(grid, 0.3, false);
    for (const p of grid.flat()) pushOut(p, outside, offset);
  }
  return splitMiddle(toSheet(grid, false), splitRow);
}

/** Parts a sheet down its middle column, below a row. */
function splitMiddle(sheet: Sheet, splitRow: number): Sheet {
  const { columns, rows } = sheet;
  const width = columns + 1;
  const half = columns / 2;
  const positions = Array.from(sheet.positions);
  const uvs = Array.from(sheet.uvs);
  const twin = new Map<number, number>();
  for (let row = splitRow + 1; row <= rows; row++) {
    const v = row * width + half;
    twin.set(v, positions.length / 3);
    const gap = 0.0025 * Math.min(2, row - splitRow);
    positions.push(positions[3 * v]! + gap, positions[3 * v + 1]!, positions[3 * v + 2]!);
    uvs.push(uvs[2 * v]! + 0.002, uvs[2 * v + 1]!);
    positions[3 * v] = positions[3 * v]! - gap;
    uvs[2 * v] = uvs[2 * v]! - 0.002;
  }
  const triangles = sheet.triangles.slice();
  for (let i = 0; i < triangles.length; i += 3) {
    const isRight = [0, 1, 2].some((k) => triangles[i + k]! % width > half);
    if (!isRight) continue;
    for (let k = 0; k < 3; k++) triangles[i + k] = twin.get(triangles[i + k]!) ?? triangles[i + k]!;
  }
  return { ...sheet, positions: Float32Array.from(positions), uvs: Float32Array.from(uvs), triangles };
}

/** Distance to the body with a sheet over it. */
function layOver(distance: DistanceFunction, sheet: Sheet): DistanceFunction {
  const beneath = measureSheet(sheet);
  return (x, y, z) => smoothMin(distance(x, y, z), beneath(x, y, z), 0.01);
}

/** How far a place lies outside a sheet that goes around the spine, along the way from the spine. */
function measureSheet({ positions, triangles }: Sheet): DistanceFunction {
  const index = new SpatialIndex(positions.slice(), triangles);
  return (x, y, z) => {
    const closest = index.findClosest(x, y, z)!;
    const outside = Math.hypot(x, z) >= Math.hypot(closest.point[0], closest.point[2]);
    return outside ? closest.distance : -closest.distance;
  };
}

const SCARF = { columns: 16, rows: 3, tailColumns: 2, tailRows: 8, tailLength: 0.34, offset: 0.009 };

/** A scarf: a ring around the neck, and from its front a tail down over chest and smock. */
export function createScarf(distance: DistanceFunction, smock: Sheet): Sheet {
  const { columns, rows, tailColumns, tailRows, tailLength, offset } = SCARF;
  const layered = layOver(distance, smock);
  const ring = Array.from({ length: rows + 1 }, (_, row) => {
    const s = row / rows;
    return Array.from({ length: columns }, (_, c): Position => {
      const angle = (2 * Math.PI * (c - tailColumns / 2)) / columns;
      const radius = 0.07 + 0.034 * s;
      return [
        radius * Math.sin(angle),
        1.515 - 0.052 * s - 0.012 * Math.cos(angle),
        -0.022 + radius * Math.cos(angle) * 1.04,
      ];
    });
  });
  for (let pass = 0; pass < 20; pass++) {
    evenOut(ring, 0.3);
    for (const p of ring.flat()) pushOut(p, distance, offset);
  }
  const overSmock = (x: number, y: number, z: number): number =>
    y > SMOCK_FRONT[0]![1] + 0.02 ? distance(x, y, z) : layered(x, y, z);
  const last = ring[rows]!;
  const tail: Position[][] = [last.slice(0, tailColumns + 1)];
  for (let row = 1; row <= tailRows; row++) {
    const above = tail[row - 1]!;
    tail.push(above.map(([x, y, z]): Position => [x, y - tailLength / tailRows, z + 0.052 / tailRows]));
  }
  for (let pass = 0; pass < 20; pass++) {
    for (const line of tail.slice(1)) for (const p of line) pushOut(p, overSmock, offset);
  }
  return joinTail(toSheet(ring), toSheet(tail, false));
}

/** The first row of the tail are the first columns of the ring's last row. */
function joinTail(ring: Sheet, tail: Sheet): Sheet {
  const count = ring.positions.length / 3;
  const width = tail.columns + 1;
  const lastRow = ring.rows * (ring.columns + 1);
  const placeOf = (v: number): number => (v < width ? lastRow + v : count + v - width);
  const uvs = Array.from(ring.uvs, (value, i) => (i % 2 === 1 ? 0.2 * value : value));
  for (let v = width; v < tail.positions.length / 3; v++)
    uvs.push(tail.uvs[2 * v]! * 0.12, 0.2 + 0.8 * tail.uvs[2 * v + 1]!);
  return {
    ...ring,
    positions: Float32Array.from([...ring.positions, ...tail.positions.subarray(3 * width)]),
    uvs: Float32Array.from(uvs),
    triangles: Uint32Array.from([...ring.triangles, ...tail.triangles.map(placeOf)]),
  };
}

const ROLL = { columns: 8, rows: 5, radius: 0.032, length: 0.2 };
/** Middle of the top of the roll. */
const ROLL_TOP: Position = [-0.105, 1.0, -0.172];

/** A rolled pouch of tools that hangs from the belt behind the right hip, closed at both ends. */
export function createToolRoll(): Sheet {
  const { columns, rows, radius, length } = ROLL;
  const placeAt = (down: number, share: number, angle: number): Position => [
    ROLL_TOP[0] + share * radius * Math.sin(angle),
    ROLL_TOP[1] - down,
    ROLL_TOP[2] + share * radius * Math.cos(angle) - 0.16 * down,
  ];
  const tube = toSheet(
    Array.from({ length: rows + 1 }, (_, row) =>
      Array.from({ length: columns }, (_, c) =>
        placeAt((length * row) / rows, 1, (2 * Math.PI * c) / columns),
      ),
    ),
  );
  const count = tube.positions.length / 3;
  const lastRow = rows * (columns + 1);
  const lids = Array.from({ length: columns }, (_, c) => [
    [count, c, c + 1],
    [count + 1, lastRow + c + 1, lastRow + c],
  ]).flat(2);
  return {
    ...tube,
    positions: Float32Array.from([
      ...tube.positions,
      ...placeAt(-0.004, 0, 0),
      ...placeAt(length + 0.004, 0, 0),
    ]),
    uvs: Float32Array.from([...tube.uvs, 0.5, 0, 0.5, 1]),
    triangles: Uint32Array.from([...tube.triangles, ...lids]),
  };
}
