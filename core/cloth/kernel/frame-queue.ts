/** Frames that are queued at once at most. */
const MOST_FRAMES = 64;

/** What a helping thread is doing. */
export enum HelperState {
  /** Its code is not there yet, or it was never started. */
  starting,
  idle,
  busy,
  failed,
}

enum Slot {
  /** Raised with whatever happens, for those who wait. */
  changes,
  /** Frames that were taken, and that were queued, since the start. */
  taken,
  queued,
  length,
}

export interface QueuedFrame {
  /** Counted from the first one that was queued. */
  frame: number;
  kernel: number;
}

/**
 * Frames to compute, in memory that several threads see: one queues them, all take them, in their order. Of each frame it holds the number
 * of its kernel, and whether it is computed.
 */
export class FrameQueue {
  readonly buffer: SharedArrayBuffer;
  readonly #slots: Int32Array;
  readonly #kernels: Int32Array;
  readonly #done: Int32Array;
  readonly #states: Int32Array;

  constructor(buffer: SharedArrayBuffer) {
    this.buffer = buffer;
    const start = 4 * Slot.length;
    this.#slots = new Int32Array(buffer, 0, Slot.length);
    this.#kernels = new Int32Array(buffer, start, MOST_FRAMES);
    this.#done = new Int32Array(buffer, start + 4 * MOST_FRAMES, MOST_FRAMES);
    this.#states = new Int32Array(buffer, start + 8 * MOST_FRAMES);
  }

  /** @param helpers - Threads besides the one that queues. */
  static create(helpers: number): FrameQueue {
    return new FrameQueue(new SharedArrayBuffer(4 * (Slot.length + 2 * MOST_FRAMES + helpers)));
  }

  get helperCount(): number {
    return this.#states.length;
  }

  /** Frames that nobody has taken yet. */
  get waitingCount(): number {
    return Atomics.load(this.#slots, Slot.queued) - Atomics.load(this.#slots, Slot.taken);
  }

  /** @returns The frame's number, null while too many are under way. */
  add(kernel: number, underWay: number): number | null {
    if (underWay >= MOST_FRAMES) return null;
    const frame = Atomics.load(this.#slots, Slot.queued);
    Atomics.store(this.#kernels, frame % MOST_FRAMES, kernel);
    Atomics.store(this.#done, frame % MOST_FRAMES, 0);
    Atomics.store(this.#slots, Slot.queued, frame + 1);
    return frame;
  }

  /** The next frame that nobody has taken yet, null when there is none. */
  get next(): QueuedFrame | null {
    while (true) {
      const frame = Atomics.load(this.#slots, Slot.taken);
      if (frame >= Atomics.load(this.#slots, Slot.queued)) return null;
      const kernel = Atomics.load(this.#kernels, frame % MOST_FRAMES);
      // Unless another thread took it meanwhile, and one after it stands in its place.
      if (Atomics.load(this.#slots, Slot.taken) === frame) return { frame, kernel };
    }
  }

  /** Takes the next frame if it is that one still. */
  take({ frame }: QueuedFrame): boolean {
    return Atomics.compareExchange(this.#slots, Slot.taken, frame, frame + 1) === frame;
  }

  setDone(frame: number): void {
    Atomics.store(this.#done, frame % MOST_FRAMES, 1);
    this.#tellChange();
  }

  isDone(frame: number): boolean {
    return Atomics.load(this.#done, frame % MOST_FRAMES) === 1;
  }

  stateOf(helper: number): HelperState {
    return Atomics.load(this.#states, helper);
  }

  setState(helper: number, state: HelperState): void {
    Atomics.store(this.#states, helper, state);
    this.#tellChange();
  }

  /** @returns Whether it was in the state that it leaves. */
  swapState(helper: number, from: HelperState, to: HelperState): boolean {
    return Atomics.compareExchange(this.#states, helper, from, to) === from;
  }

  /** To be read before looking at the rest: what changes between the two ends the next wait at once. */
  get changes(): number {
    return Atomics.load(this.#slots, Slot.changes);
  }

  /** Waits for a change after those. @returns False when there was none for so long, ms. */
  wait(changes: number, most: number): boolean {
    return Atomics.wait(this.#slots, Slot.changes, changes, most) !== 'timed-out';
  }

  #tellChange(): void {
    Atomics.add(this.#slots, Slot.changes, 1);
    Atomics.notify(this.#slots, Slot.changes);
  }
}
