import type { RecordId } from '../document/index.ts';
import type { GarmentRun } from './garment-run.ts';

/** Garments that are on their way out, still simulated, while what is drawn goes over from them to others. */
export class LevelSwitch {
  /** From the skin outward: those that are drawn, and those that these lie over. */
  readonly garments: readonly GarmentRun[];
  readonly #drawn: ReadonlyMap<RecordId, GarmentRun>;
  readonly #whole: number;
  #left: number;

  /**
   * @param drawn - Garments that are still drawn. @param old - All of before, from the skin outward.
   * @param kept - Those of them that go on: they are simulated anyway. @param seconds - How long it takes.
   */
  constructor(
    drawn: readonly GarmentRun[],
    { old, kept }: { old: readonly GarmentRun[]; kept: ReadonlySet<GarmentRun> },
    seconds: number,
  ) {
    const needed = new Set(drawn.flatMap((garment) => [garment, ...garment.beneath]));
    this.garments = old.filter((garment) => needed.has(garment) && !kept.has(garment));
    this.#drawn = new Map(drawn.map((garment) => [garment.setup.id, garment]));
    this.#whole = seconds;
    this.#left = seconds;
  }

  get isOver(): boolean {
    // Sums of frames may miss the end by their last digit.
    return this.#left <= 1e-9;
  }

  /** @param seconds - Of a frame. */
  pass(seconds: number): void {
    this.#left = Math.max(0, this.#left - seconds);
  }

  /** The garment that is drawn as well, null when none is. */
  find(id: RecordId): GarmentRun | null {
    return this.#drawn.get(id) ?? null;
  }

  /** How much of what is drawn is of the new ones: from 0 to 1, without a jump in its speed or acceleration. */
  get share(): number {
    const t = 1 - this.#left / this.#whole;
    return t * t * t * (10 + t * (6 * t - 15));
  }
}
