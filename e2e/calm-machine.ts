import { readFileSync } from 'node:fs';

/** Share of this machine's time that its host may give to others, over the last seconds, before a test waits. */
const MOST_STOLEN = 0.2;
/** How long it looks back. */
const WINDOW_MS = 3000;
const LOOK_EVERY_MS = 500;
/** A test waits at most so long, and all together no longer than this. */
const MOST_WAIT_MS = 120_000;
const MOST_WAIT_IN_ALL_MS = 900_000;

interface Look {
  at: number;
  stolen: number;
  total: number;
}

/**
 * Waits before tests while the machine's host gives its processors to somebody else: nothing that is asked of a page in a second can be
 * told then. On a machine of its own, and where the system does not say, nothing is ever waited for.
 */
export class CalmMachine {
  readonly #looks: Look[] = [];
  readonly #timer: ReturnType<typeof setInterval>;
  #waited = 0;

  constructor() {
    this.#look();
    this.#timer = setInterval(() => this.#look(), LOOK_EVERY_MS);
    this.#timer.unref();
  }

  /** @returns How long it waited, ms. */
  async wait(): Promise<number> {
    const start = Date.now();
    const most = Math.min(MOST_WAIT_MS, MOST_WAIT_IN_ALL_MS - this.#waited);
    while (this.#readStolen() > MOST_STOLEN && Date.now() - start < most)
      await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS));
    const waited = Date.now() - start;
    this.#waited += waited;
    return waited;
  }

  end(): void {
    clearInterval(this.#timer);
  }

  #readStolen(): number {
    const [first, last] = [this.#looks[0], this.#looks.at(-1)];
    return first && last && last.total > first.total
      ? (last.stolen - first.stolen) / (last.total - first.total)
      : 0;
  }

  #look(): void {
    const times = readTimes();
    if (!times) return;
    this.#looks.push({ at: Date.now(), ...times });
    while (this.#looks[0]!.at < Date.now() - WINDOW_MS) this.#looks.shift();
  }
}

/** Ticks since the start of all processors; null where the system does not tell. Columns as in proc(5): the eighth is stolen. */
function readTimes(): { stolen: number; total: number } | null {
  let line: string;
  try {
    line = readFileSync('/proc/stat', 'utf8').split('\n')[0]!;
  } catch {
    return null;
  }
  const ticks = line.split(/\s+/).slice(1, 9).map(Number);
  const total = ticks.reduce((sum, each) => sum + each, 0);
  return Number.isFinite(total) ? { stolen: ticks[7] ?? 0, total } : null;
}
