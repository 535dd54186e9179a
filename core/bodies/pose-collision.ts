import { invertAffine, meanScale, rotate, transformPoint, type Vector3 } from '../math/index.ts';
import { packBodies } from './body-shape.ts';
import { type CollisionShape, isRound } from './collision-shape.ts';
import { computeHullPlanes } from './hull-planes.ts';
import { listBoxCorners } from './list-box-corners.ts';
import { poseCapsules } from './pose-capsules.ts';

/** Shapes in joint space, ready to be posed. */
export interface PackedCollision {
  capsuleRows: Float32Array;
  capsuleNodes: Int32Array;
  hulls: {
    node: number;
    /** Rows of nx ny nz d. */
    planes: number[][];
    /** Corners, for the box; null when the shape is endless. [n, 3] */
    corners: number[] | null;
    /** Least half width, m. */
    size: number;
    /** What the planes stand beyond the corners, m. */
    margin: number;
  }[];
}

/** The same in the world at one moment. */
export interface PosedCollision {
  /** [m, 8], rows as in `packBodies`. */
  capsules: Float32Array;
  /** Planes of all hulls, nx ny nz d; those of hull i are `starts[i]` to `starts[i + 1]`. */
  planes: Float32Array;
  starts: Uint32Array;
  /** Low corner, 0, high corner, 0 of each hull. [k, 8] */
  boxes: Float32Array;
  sizes: Float32Array;
  /** What its planes stand beyond the corners of each hull, m. [k] */
  margins: Float32Array;
  /** World matrix of the joint of each hull, [k, 16]. */
  frames: Float64Array;
}

const AXES: readonly Vector3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** Half the side of the box of an endless shape, m. */
const ENDLESS = 1e6;

/** Shapes in the space of their joints, as flat rows ready to be posed each frame. Ours. */
export function packCollision(shapes: readonly CollisionShape[]): PackedCollision {
  const round = packBodies(shapes.filter(isRound));
  const hulls: PackedCollision['hulls'] = [];
  for (const shape of shapes) if (!isRound(shape)) hulls.push(packHull(shape));
  return { capsuleRows: round.rows, capsuleNodes: round.nodes, hulls };
}

type FlatShape = Exclude<CollisionShape, { radiusA: number }>;

function packHull(shape: FlatShape): PackedCollision['hulls'][number] {
  const { margin = 0 } = shape;
  const bare = packBare(shape);
  return {
    ...bare,
    planes: bare.planes.map(([nx, ny, nz, d]) => [nx!, ny!, nz!, d! + margin]),
    size: bare.size + margin,
    margin,
  };
}

function packBare(shape: FlatShape): Omit<PackedCollision['hulls'][number], 'margin'> {
  switch (shape.kind) {
    case 'plane': {
      const [nx, ny, nz] = shape.normal;
      const d = nx * shape.point[0] + ny * shape.point[1] + nz * shape.point[2];
      return { node: shape.node, planes: [[nx, ny, nz, d]], corners: null, size: ENDLESS };
    }
    case 'box': {
      const planes: number[][] = [];
      const axes = [0, 1, 2].map((k) => rotate(shape.rotation, AXES[k]!));
      for (let k = 0; k < 3; k++) {
        for (const sign of [1, -1]) {
          const n = axes[k]!.map((value) => sign * value);
          const offset = n.reduce((sum, value, c) => sum + value * shape.centre[c]!, 0);
          planes.push([...n, offset + shape.halfSize[k]!]);
        }
      }
      const corners = [...listBoxCorners(shape)];
      return { node: shape.node, planes, corners, size: Math.min(...shape.halfSize) };
    }
    case 'hull': {
      const planes = computeHullPlanes(shape.points);
      return {
        node: shape.node,
        planes,
        corners: [...shape.points],
        size: measureHullSize(shape.points, planes),
      };
    }
  }
}

/** Least distance of the mean of the points from a plane, m. */
function measureHullSize(points: Float32Array, planes: number[][]): number {
  const mean = [0, 0, 0];
  for (let i = 0; i < points.length; i++) mean[i % 3] = mean[i % 3]! + (3 * points[i]!) / points.length;
  return Math.min(...planes.map(([nx, ny, nz, d]) => d! - nx! * mean[0]! - ny! * mean[1]! - nz! * mean[2]!));
}

/** Room for packed shapes in the world, to be filled by `poseCollision`. */
export function createPosedCollision({ capsuleRows, hulls }: PackedCollision): PosedCollision {
  const starts = new Uint32Array(hulls.length + 1);
  hulls.forEach((hull, i) => {
    starts[i + 1] = starts[i]! + hull.planes.length;
  });
  return {
    capsules: new Float32Array(capsuleRows.length),
    planes: new Float32Array(4 * starts[hulls.length]!),
    starts,
    boxes: new Float32Array(8 * hulls.length),
    sizes: Float32Array.from(hulls, (hull) => hull.size),
    margins: Float32Array.from(hulls, (hull) => hull.margin),
    frames: new Float64Array(16 * hulls.length),
  };
}

/** Shapes carried from joint space into the world. @param worldMatrices - [n, 16]. */
export function poseCollision(
  packed: PackedCollision,
  worldMatrices: Float64Array,
  out: PosedCollision,
): void {
  poseCapsules(packed.capsuleRows, packed.capsuleNodes, worldMatrices, out.capsules);
  const inverse = new Float64Array(16);
  const position = new Float64Array(3);
  packed.hulls.forEach((hull, h) => {
    const m = 16 * hull.node;
    out.frames.set(worldMatrices.subarray(m, m + 16), 16 * h);
    const isSound = invertAffine(inverse, 0, worldMatrices, m);
    hull.planes.forEach(([nx, ny, nz, d], p) => {
      const o = 4 * (out.starts[h]! + p);
      // A plane goes through the inverse transpose; a flattened joint has none, and its hull is put out of the way.
      const w = isSound
        ? [0, 1, 2].map((c) => inverse[4 * c]! * nx! + inverse[4 * c + 1]! * ny! + inverse[4 * c + 2]! * nz!)
        : [0, 0, 0];
      const length = Math.sqrt(w[0]! ** 2 + w[1]! ** 2 + w[2]! ** 2);
      if (!(length > 0)) {
        out.planes.set([0, 1, 0, -ENDLESS], o);
        return;
      }
      const n = w.map((value) => value / length);
      transformPoint(position, 0, worldMatrices, m, nx! * d!, ny! * d!, nz! * d!);
      out.planes.set([...n, n[0]! * position[0]! + n[1]! * position[1]! + n[2]! * position[2]!], o);
    });
    out.margins[h] = hull.margin * meanScale(worldMatrices, m);
    writeBox(hull, worldMatrices, m, out.boxes, 8 * h);
  });
}

function writeBox(
  { corners, margin }: PackedCollision['hulls'][number],
  worldMatrices: Float64Array,
  m: number,
  out: Float32Array,
  o: number,
): void {
  if (!corners) {
    out.fill(-ENDLESS, o, o + 3);
    out.fill(ENDLESS, o + 4, o + 7);
    return;
  }
  const position = new Float64Array(3);
  for (let i = 0; i < corners.length; i += 3) {
    transformPoint(position, 0, worldMatrices, m, corners[i]!, corners[i + 1]!, corners[i + 2]!);
    for (let k = 0; k < 3; k++) {
      out[o + k] = i === 0 ? position[k]! : Math.min(out[o + k]!, position[k]!);
      out[o + 4 + k] = i === 0 ? position[k]! : Math.max(out[o + 4 + k]!, position[k]!);
    }
  }
  // A corner between faces that are square goes out so far at most, as much as the most stretched direction makes of it.
  const spare =
    Math.sqrt(3) * margin * Math.max(...[0, 4, 8].map((c) => measureColumn(worldMatrices, m + c)));
  for (let k = 0; k < 3; k++) {
    out[o + k] = out[o + k]! - spare;
    out[o + 4 + k] = out[o + 4 + k]! + spare;
  }
}

function measureColumn(matrices: Float64Array, o: number): number {
  return Math.sqrt(matrices[o]! ** 2 + matrices[o + 1]! ** 2 + matrices[o + 2]! ** 2);
}
