import type { FabricSettings, RigidMotion } from '../cloth/index.ts';
import { type RootMove, toMatrix } from './root-motion.ts';

type Vector = readonly [number, number, number];

const NONE: Vector = [0, 0, 0];

/** Cloth is about so far, m, from the root that turns it: what its acceleration is in rad/s². */
const LEVER = 0.5;

/**
 * What cloth feels of the root's motion. It feels a speed that follows the root's own, no faster than the most acceleration that its
 * fabric allows; the rest of each move carries it along without a trace. A speed that lasts one frame only was a jump: of that it
 * feels nothing, however near or far. So there is no threshold at which a jump becomes a throw. Ours.
 */
export class FeltRoot {
  /** m/s, and rad/s (twice the sine of half the turn, over the time). */
  readonly #speed = new FeltSpeed();
  readonly #spin = new FeltSpeed();

  /** Nothing is felt yet. */
  reset(): void {
    this.#speed.reset();
    this.#spin.reset();
  }

  /** @returns The part of a move that cloth, and all that it meets, is to be carried along by first; null: none. */
  feel(move: RootMove, seconds: number, fabric: Readonly<FabricSettings>): RigidMotion | null {
    const { rootMotionShare, rootTurnShare, mostRootAcceleration } = fabric;
    const most = mostRootAcceleration * seconds;
    const rate = 1 / seconds;
    const way = [0, 1, 2].map((k) => rate * (move.to[k]! - move.from[k]!)) as unknown as Vector;
    const spin = [0, 1, 2].map((k) => 2 * rate * move.turn[k]!) as unknown as Vector;
    const before = this.#speed.felt;
    const isWayFelt = this.#speed.follow(way, most);
    const isSpinFelt = this.#spin.follow(spin, most / LEVER);
    if (isWayFelt && isSpinFelt && rootMotionShare === 1 && rootTurnShare === 1) return null;
    const half = this.#spin.felt.map((value) => 0.5 * seconds * rootTurnShare * value);
    const [x, y, z] = half as unknown as Vector;
    const back = toMatrix([-x, -y, -z, Math.sqrt(Math.max(0, 1 - x * x - y * y - z * z))]);
    const turn = multiply(back, toMatrix(move.turn));
    const turnedFrom = rotate(turn, move.from);
    const displacement = turnedFrom.map(
      (value, k) => move.to[k]! - seconds * rootMotionShare * this.#speed.felt[k]! - value,
    );
    // What moves with the root keeps its own direction, whichever way the root looks now.
    const velocity = rotate(turn, before).map((value, k) => rootMotionShare * (before[k]! - value));
    return {
      turn,
      displacement: displacement as [number, number, number],
      velocity: velocity as [number, number, number],
    };
  }
}

/** A speed that follows another with limited changes, and not at all what lasts one step only. */
class FeltSpeed {
  felt: Vector = NONE;
  #last: Vector = NONE;

  reset(): void {
    this.felt = NONE;
    this.#last = NONE;
  }

  /** @param most - Change in this step. @returns Whether the speed is felt as it is. */
  follow(now: Vector, most: number): boolean {
    const { felt } = this;
    const change = now.map((value, k) => value - felt[k]!);
    const length = Math.sqrt(change.reduce((sum, value) => sum + value * value, 0));
    const last = this.#last;
    this.#last = now;
    if (length <= most) {
      this.felt = now;
      return true;
    }
    // As far as the speed of the frame before agrees with this one's.
    const lasting = change.reduce((sum, value, k) => sum + value * (last[k]! - felt[k]!), 0) / length;
    const step = Math.min(most, Math.max(0, lasting));
    this.felt = felt.map((value, k) => value + (step * change[k]!) / length) as unknown as Vector;
    return false;
  }
}

function rotate(m: readonly number[], [x, y, z]: Vector): number[] {
  return [0, 1, 2].map((k) => m[k]! * x + m[3 + k]! * y + m[6 + k]! * z);
}

function multiply(a: readonly number[], b: readonly number[]): number[] {
  return a.map((_, i) => {
    const [row, column] = [i % 3, 3 * Math.floor(i / 3)];
    return a[row]! * b[column]! + a[3 + row]! * b[column + 1]! + a[6 + row]! * b[column + 2]!;
  });
}
