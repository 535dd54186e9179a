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

  /** @returns Of each garment the root mean square distance of its points from where they were in the same frame of the last round, m; null before there is one. */
  measureScatter(frame: number): number[] | null {
    const last = this.#frames[frame];
    if (!last) return null;
    return this.#run.garments.map(({ solver: { positions: x } }, g) => {
      const before = last[g]!;
      let sum = 0;
      for (let o = 0; o < before.length; o += 4) {
        sum +=
          (x[o]! - before[o]!) ** 2 + (x[o + 1]! - before[o + 1]!) ** 2 + (x[o + 2]! - before[o + 2]!) ** 2;
      }
      return Math.sqrt(sum / Math.max(1, before.length / 4));
    });
  }
}
