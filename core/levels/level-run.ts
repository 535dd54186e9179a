import type { CharacterRun, RunSetup } from '../run/index.ts';
import { chooseBand, type LevelBand } from './level-bands.ts';

/** Takes a run from level to level by how large its character is on the screen; one goes over into the next before another begins. */
export class LevelRun {
  readonly run: CharacterRun;
  readonly #bands: readonly Pick<LevelBand, 'from' | 'below'>[];
  readonly #setUp: (band: number) => Pick<RunSetup, 'character' | 'garments'>;
  readonly #seconds: number;
  #band: number;

  /**
   * @param run - At some band. @param setUp - Of a band, asked for when it is gone over to. @param seconds - In which it goes over.
   */
  constructor(
    run: CharacterRun,
    {
      bands,
      band,
      setUp,
      seconds,
    }: {
      bands: readonly Pick<LevelBand, 'from' | 'below'>[];
      band: number;
      setUp: (band: number) => Pick<RunSetup, 'character' | 'garments'>;
      seconds: number;
    },
  ) {
    this.run = run;
    this.#bands = bands;
    this.#band = band;
    this.#setUp = setUp;
    this.#seconds = seconds;
  }

  /** The band that it is at, or going over to. */
  get band(): number {
    return this.#band;
  }

  /** Says how high the character is on the screen, px, before a frame. @returns Whether it begins to go over. */
  setPixels(pixels: number): boolean {
    if (this.run.isSwitching) return false;
    const next = chooseBand(this.#bands, this.#band, pixels);
    if (next === this.#band) return false;
    this.#band = next;
    this.run.switchTo(this.#setUp(next), this.#seconds);
    return true;
  }
}
