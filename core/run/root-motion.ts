/** How the root joint moved in one frame. */
export interface RootMove {
  /** Turn as a unit quaternion, xyzw, w not negative. */
  turn: readonly [number, number, number, number];
  /** Where the root was and is, m. */
  from: [number, number, number];
  to: [number, number, number];
}

/** Follows the root joint from frame to frame. Ours. */
export class RootMotion {
  readonly #node: number;
  #before: number[] | null = null;

  /** @param joints - Nodes of the skin, in any order; parents have lower numbers. */
  constructor(joints: ArrayLike<number>) {
    this.#node = Array.from(joints).reduce((least, node) => Math.min(least, node));
  }

  /** @param worldMatrices - Of all nodes, [n, 16]. @returns The move since the last call; none at the first. */
  follow(worldMatrices: Float64Array): RootMove {
    const now = readFrame(worldMatrices, 16 * this.#node);
    const before = this.#before ?? now;
    this.#before = now;
    const turn = new Array<number>(9).fill(0);
    for (let column = 0; column < 3; column++) {
      for (let row = 0; row < 3; row++) {
        for (let k = 0; k < 3; k++) {
          turn[3 * column + row] = turn[3 * column + row]! + now[3 * k + row]! * before[3 * k + column]!;
        }
      }
    }
    return {
      turn: toQuaternion(turn),
      from: [before[9]!, before[10]!, before[11]!],
      to: [now[9]!, now[10]!, now[11]!],
    };
  }
}

/** 3×3 by columns of a unit quaternion. */
export function toMatrix([x, y, z, w]: RootMove['turn']): number[] {
  return [
    1 - 2 * (y * y + z * z),
    2 * (x * y + w * z),
    2 * (x * z - w * y),
    2 * (x * y - w * z),
    1 - 2 * (x * x + z * z),
    2 * (y * z + w * x),
    2 * (x * z + w * y),
    2 * (y * z - w * x),
    1 - 2 * (x * x + y * y),
  ];
}

/** Rotation (orthonormal columns) and place of a world matrix; a flattened joint counts as not turned. */
function readFrame(world: Float64Array, o: number): number[] {
  const frame = [1, 0, 0, 0, 1, 0, 0, 0, 1, world[o + 12]!, world[o + 13]!, world[o + 14]!];
  const x = normalise([world[o]!, world[o + 1]!, world[o + 2]!]);
  const rough = [world[o + 4]!, world[o + 5]!, world[o + 6]!];
  if (!x) return frame;
  const along = x[0]! * rough[0]! + x[1]! * rough[1]! + x[2]! * rough[2]!;
  const y = normalise([0, 1, 2].map((k) => rough[k]! - along * x[k]!));
  if (!y) return frame;
  const z = [x[1]! * y[2]! - x[2]! * y[1]!, x[2]! * y[0]! - x[0]! * y[2]!, x[0]! * y[1]! - x[1]! * y[0]!];
  return [...x, ...y, ...z, ...frame.slice(9)];
}

function normalise(v: number[]): number[] | null {
  const length = Math.sqrt(v[0]! * v[0]! + v[1]! * v[1]! + v[2]! * v[2]!);
  return length > 0 && Number.isFinite(length) ? v.map((value) => value / length) : null;
}

/** By the largest part, so that half a circle is as exact as none. @param m - 3×3 by columns. */
function toQuaternion(m: number[]): [number, number, number, number] {
  const squares = [
    1 + m[0]! - m[4]! - m[8]!,
    1 - m[0]! + m[4]! - m[8]!,
    1 - m[0]! - m[4]! + m[8]!,
    1 + m[0]! + m[4]! + m[8]!,
  ];
  const largest = squares.indexOf(Math.max(...squares));
  const sums = [m[5]! + m[7]!, m[2]! + m[6]!, m[1]! + m[3]!];
  const differences = [m[5]! - m[7]!, m[6]! - m[2]!, m[1]! - m[3]!];
  const q = [0, 0, 0, 0];
  for (let k = 0; k < 4; k++) {
    if (k === largest) q[k] = squares[k]!;
    else if (k === 3) q[k] = differences[largest]!;
    else if (largest === 3) q[k] = differences[k]!;
    // The sum that belongs to two axes is that of the third.
    else q[k] = sums[3 - k - largest]!;
  }
  const sign = q[3]! < 0 ? -1 : 1;
  const length = Math.sqrt(q.reduce((sum, value) => sum + value * value, 0));
  return q.map((value) => (sign * value) / length) as [number, number, number, number];
}
