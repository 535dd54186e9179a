import type { CharacterRun } from '../run/index.ts';

/** Where the simulated points of a run were in each frame of the last round of its clip. */
export class RoundMemory {
  readonly #run: CharacterRun;
  /** By frame and garment, [n, 4] metres. */
  readonly #frames: Float32Array[][] = [];

  constructor(run: CharacterRun) {
    this.#run = run;
  }

  /** Notes the points as they are in a frame of the round. */
  note(frame: number): void {
    this.#frames[frame] = this.#run.garments.map(({ solver }) =>
      solver.positions.slice(0, 4 * solver.garment.pointCount),
    );
  }

  /** @returns Root mean square distance of all points from where they were in the same frame of the last round, m; null before there is one. */
  measureScatter(frame: number): number | null {
    const last = this.#frames[frame];
    if (!last) return null;
    let [sum, count] = [0, 0];
    this.#run.garments.forEach(({ solver: { positions: x } }, g) => {
      const before = last[g]!;
      for (let o = 0; o < before.length; o += 4) {
        sum +=
          (x[o]! - before[o]!) ** 2 + (x[o + 1]! - before[o + 1]!) ** 2 + (x[o + 2]! - before[o + 2]!) ** 2;
      }
      count += before.length / 4;
    });
    return count > 0 ? Math.sqrt(sum / count) : 0;
  }
}
