/** How the root joint moved in one frame. */
export interface RootMove {
  /** 3×3 by columns. */
  turn: number[];
  /** Cosine of the angle of the turn. */
  cosine: number;
  /** Where the root was and is, m. */
  from: [number, number, number];
  to: [number, number, number];
}

/** Farther (m) or more turned (cosine of the angle) than this in one frame, the root was put elsewhere. */
const TELEPORT_DISTANCE = 0.5;
const TELEPORT_COSINE = 0.5;

/** Follows the root joint from frame to frame. */
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
      turn,
      cosine: (turn[0]! + turn[4]! + turn[8]! - 1) / 2,
      from: [before[9]!, before[10]!, before[11]!],
      to: [now[9]!, now[10]!, now[11]!],
    };
  }
}

/** Whether the root was put elsewhere rather than moved there. */
export function isTeleport({ cosine, from, to }: RootMove): boolean {
  const [x, y, z] = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
  return cosine < TELEPORT_COSINE || x * x + y * y + z * z > TELEPORT_DISTANCE * TELEPORT_DISTANCE;
}

/**
 * The share of a root's move that cloth is to be carried along by, so that it does not feel it.
 * @param linear - Share of the way, @param angular - share of the turn (shortest way round).
 * @returns x → turn · x + way.
 */
export function shareOfMove(
  move: RootMove,
  linear: number,
  angular: number,
): { turn: number[]; displacement: [number, number, number] } {
  const turn = partOfTurn(move.turn, angular);
  const displacement = [0, 1, 2].map((k) => {
    const turned = turn[k]! * move.from[0] + turn[3 + k]! * move.from[1] + turn[6 + k]! * move.from[2];
    return move.from[k]! - turned + linear * (move.to[k]! - move.from[k]!);
  });
  return { turn, displacement: displacement as [number, number, number] };
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

/** A part of a turn, by the straight way between quaternions: near enough for the turn of one frame. */
function partOfTurn(m: number[], part: number): number[] {
  // Turns of half a circle and near it are jumps and never come here, so that w stays well above 0.
  const w = 0.5 * Math.sqrt(Math.max(1e-6, 1 + m[0]! + m[4]! + m[8]!));
  const q = [(m[5]! - m[7]!) / (4 * w), (m[6]! - m[2]!) / (4 * w), (m[1]! - m[3]!) / (4 * w)];
  let [x, y, z, s] = [part * q[0]!, part * q[1]!, part * q[2]!, 1 - part + part * w];
  const length = Math.sqrt(x * x + y * y + z * z + s * s);
  x /= length;
  y /= length;
  z /= length;
  s /= length;
  return [
    1 - 2 * (y * y + z * z),
    2 * (x * y + s * z),
    2 * (x * z - s * y),
    2 * (x * y - s * z),
    1 - 2 * (x * x + z * z),
    2 * (y * z + s * x),
    2 * (x * z + s * y),
    2 * (y * z - s * x),
    1 - 2 * (x * x + y * y),
  ];
}
