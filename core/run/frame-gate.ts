import type { LevelRate } from '../document/index.ts';

/** Of what is simulated at a fixed rate, s. */
const THIRTY_SECONDS = 1 / 30;

/**
 * Says in which frames a garment is simulated, and how far what is shown has come from one simulated state to the next. What is
 * between them is shown late by one state less a frame, so that it is known. Ours.
 */
export class FrameGate {
  readonly #rate: LevelRate;
  /** Frames and seconds since the last that was simulated. */
  #frames = 0;
  #seconds = 0;
  /** How long the last simulated step was, s. */
  #length = 1;
  #share = 1;

  constructor(rate: LevelRate) {
    this.#rate = rate;
  }

  /** @param seconds - Of the frame. @returns How long a step is to be simulated in it, s; 0: none. */
  pass(seconds: number): number {
    this.#frames++;
    this.#seconds += seconds;
    const isDue = this.#isDue(seconds);
    if (isDue) {
      this.#length = this.#seconds;
      this.#share = 0;
      this.#frames = this.#seconds = 0;
    }
    // Sums of frames may miss the end by their last digit.
    this.#share = Math.min(1, this.#share + (seconds * (1 + 1e-9)) / this.#length);
    return isDue ? this.#length : 0;
  }

  /** How much of the way from the state before to the last one is shown now, 0 to 1. */
  get share(): number {
    return this.#share;
  }

  #isDue(seconds: number): boolean {
    if (this.#rate === 'everyFrame') return true;
    if (this.#rate === 'everyOther') return this.#frames >= 2;
    // The frame that ends nearest to it.
    return this.#seconds >= THIRTY_SECONDS - seconds / 2;
  }

  /** The next frame begins anew, and all of the last state is shown. */
  reset(): void {
    this.#frames = this.#seconds = 0;
    this.#share = 1;
    this.#length = 1;
  }
}
