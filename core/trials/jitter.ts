import type { CharacterRun } from '../run/index.ts';

/** Frames on each side of the one that is judged. */
export const JITTER_DELAY = 2;
const FRAMES = 2 * JITTER_DELAY + 1;
/** A vertex that goes to and fro by A each frame is 8/3 A off the cubic through its neighbours. */
const SCALE = 3 / 8;

export interface Jitter {
  /** Root mean square over the vertices of a garment, m. */
  mean: number;
  /** Of the vertex that shakes most, m, and its number among the garment's rows. */
  most: number;
  row: number;
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
  /** Of the last frames, oldest first: seconds, and by garment offsets, [n, 3]. */
  readonly #frames: { time: number; offsets: Float32Array[] }[] = [];

  constructor(run: CharacterRun) {
    this.#run = run;
  }

  /** Notes where all stands. @param time - Seconds since any start, rising. */
  note(time: number): void {
    const spare = this.#frames.length === FRAMES ? this.#frames.shift() : undefined;
    const offsets = this.#run.garments.map((garment, g) => {
      const { shown, targets } = garment;
      const { pointCount } = garment.setup.compiled;
      const out = spare?.offsets[g] ?? new Float32Array(3 * pointCount);
      for (let p = 0; p < pointCount; p++)
        for (let k = 0; k < 3; k++) out[3 * p + k] = shown[4 * p + k]! - targets[4 * p + k]!;
      return out;
    });
    this.#frames.push({ time, offsets });
  }

  /** Of the frame before the last two, by garment; null before enough are known. */
  measure(): Jitter[] | null {
    if (this.#frames.length < FRAMES) return null;
    const weights = weighCubic(this.#frames.map(({ time }) => time));
    return this.#run.garments.map((_, g) =>
      measureOffsets(
        this.#frames.map(({ offsets }) => offsets[g]!),
        weights,
      ),
    );
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

function measureOffsets(frames: readonly Float32Array[], weights: readonly number[]): Jitter {
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
