import { type RunTimes, sumTimes } from '../../core/run/index.ts';

/** What one simulated frame took, ms. */
interface FrameCost {
  at: number;
  total: number;
  parts: RunTimes;
}

/** What a simulated frame takes here when nothing disturbs it, ms. */
export interface CostSummary {
  parts: RunTimes;
  /** What a quick frame took, and a slow one: a tenth took less, a tenth took more. */
  quick: number;
  slow: number;
}

/** Frames of the last so many milliseconds count. */
const WINDOW = 3000;
/** Those between these shares of them, from the quickest on, make the figure. */
const COUNTED = [0.1, 0.3] as const;

/**
 * The cost of the frames of the last seconds. There is no clock of a thread's own work in a browser, and a wall clock goes on while
 * others use the processor: so the figure is the mean of quick frames, which were hardly disturbed, and not of all.
 */
export class FrameCosts {
  #frames: FrameCost[] = [];

  /** What came before is of another document. */
  clear(): void {
    this.#frames = [];
  }

  /** @param at - When the frame was done, ms. */
  add(at: number, parts: RunTimes): void {
    this.#frames.push({ at, total: sumTimes(parts), parts });
    const first = this.#frames.findIndex((frame) => frame.at >= at - WINDOW);
    if (first > 0) this.#frames.splice(0, first);
  }

  /** Null before the first frame. */
  summarise(): CostSummary | null {
    const sorted = this.#frames.toSorted((p, q) => p.total - q.total);
    if (sorted.length === 0) return null;
    const at = (share: number): number => Math.min(sorted.length - 1, Math.floor(share * sorted.length));
    const counted = sorted.slice(at(COUNTED[0]), at(COUNTED[1]) + 1);
    const mean = (read: (frame: FrameCost) => number): number =>
      counted.reduce((sum, frame) => sum + read(frame), 0) / counted.length;
    const [{ parts }] = counted as [FrameCost];
    const keys = Object.keys(parts) as (keyof RunTimes)[];
    return {
      parts: Object.fromEntries(keys.map((key) => [key, mean((frame) => frame.parts[key])])) as Record<
        keyof RunTimes,
        number
      >,
      quick: sorted[at(0.1)]!.total,
      slow: sorted[at(0.9)]!.total,
    };
  }
}
