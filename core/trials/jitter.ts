import type { CharacterRun } from '../run/index.ts';

/** Frames on each side of the one that is judged. */
export const JITTER_DELAY = 2;
const FRAMES = 2 * JITTER_DELAY + 1;
/** A vertex that goes to and fro by A each frame is 8/3 A off the cubic through its neighbours. */
const SCALE = 3 / 8;

export interface Jitter {
  /** Root mean square over the vertices of a garment, m. */
  mean: number;
  /** Of the vertex that shakes most, m; its number among the garment's rows, and where it was in that frame, world space. */
  most: number;
  row: number;
  position: [number, number, number];
}

/** One frame as it was noted: seconds, and by garment the vertices and how far they are from their skinned places, [n, 3] each. */
interface Noted {
  time: number;
  offsets: Float32Array[];
  positions: Float32Array[];
}

/**
 * How far cloth shakes from frame to frame, beyond what its skinned place does.
 *
 * Each vertex has an offset from its skinned place. Where it is off the cubic through the two frames before and the two after, at the
 * times that they have, it shakes: `J = 3/8 |d(t) - cubic(t)|`. On even frames that is `|d(-2) - 4 d(-1) + 6 d(0) - 4 d(1) + d(2)| / 16`, which passes a
 * sine of frequency f and amplitude A at `A sin⁴(π f / rate)`: all of it from one frame to the next, a quarter at half of that, a
 * thousandth of a swing of 3 a second at 60 frames. A motion that is smooth in time is none, however uneven the frames. Ours.
 */
export class JitterMeasure {
  readonly #run: CharacterRun;
  /** Oldest first. */
  readonly #frames: Noted[] = [];

  constructor(run: CharacterRun) {
    this.#run = run;
  }

  /** Notes where all stands. @param time - Seconds since any start, rising. */
  note(time: number): void {
    const noted = this.#frames.length === FRAMES ? this.#frames.shift()! : this.#createNoted();
    noted.time = time;
    this.#run.garments.forEach(({ shown, targets }, g) => {
      const [offsets, positions] = [noted.offsets[g]!, noted.positions[g]!];
      for (let p = 0; 3 * p < offsets.length; p++) {
        for (let k = 0; k < 3; k++) {
          positions[3 * p + k] = shown[4 * p + k]!;
          offsets[3 * p + k] = shown[4 * p + k]! - targets[4 * p + k]!;
        }
      }
    });
    this.#frames.push(noted);
  }

  /** Of the frame before the last two, by garment; null before enough are known. */
  measure(): Jitter[] | null {
    if (this.#frames.length < FRAMES) return null;
    const weights = weighCubic(this.#frames.map(({ time }) => time));
    return this.#run.garments.map((_, g) => {
      const offsets = this.#frames.map((noted) => noted.offsets[g]!);
      const found = measureOffsets(offsets, weights);
      const [x, y, z] = this.#frames[JITTER_DELAY]!.positions[g]!.subarray(3 * found.row);
      return { ...found, position: [x!, y!, z!] };
    });
  }

  #createNoted(): Noted {
    const create = (): Float32Array[] =>
      this.#run.garments.map(({ setup }) => new Float32Array(3 * setup.compiled.pointCount));
    return { time: 0, offsets: create(), positions: create() };
  }
}

/**
 * How far the middle one of five places is off the cubic through the others, scaled, as weights of all.
 * @param times - [5], rising.
 */
export function weighCubic(times: readonly number[]): number[] {
  const middle = times[JITTER_DELAY]!;
  return times.map((own, i) => {
    if (i === JITTER_DELAY) return SCALE;
    let weight = -SCALE;
    times.forEach((other, j) => {
      if (j !== i && j !== JITTER_DELAY) weight *= (middle - other) / (own - other);
    });
    return weight;
  });
}

/**
 * How much offsets shake in the middle one of five frames.
 * @param frames - [n, 3] m each. @param weights - See `weighCubic`.
 */
export function measureOffsets(
  frames: readonly Float32Array[],
  weights: readonly number[],
): Omit<Jitter, 'position'> {
  const [a, b, c, d, e] = frames as [Float32Array, Float32Array, Float32Array, Float32Array, Float32Array];
  const [wa, wb, wc, wd, we] = weights as [number, number, number, number, number];
  let sum = 0;
  let most = 0;
  let row = 0;
  for (let o = 0; o < a.length; o += 3) {
    let square = 0;
    for (let i = o; i < o + 3; i++) {
      const off = wa * a[i]! + wb * b[i]! + wc * c[i]! + wd * d[i]! + we * e[i]!;
      square += off * off;
    }
    sum += square;
    if (square > most) {
      most = square;
      row = o / 3;
    }
  }
  return { mean: Math.sqrt(sum / Math.max(1, a.length / 3)), most: Math.sqrt(most), row };
}
