import { assert } from '../../math/index.ts';
import type { SharedKernel } from '../cloth-solver.ts';
import { FrameQueue, HelperState, type QueuedFrame } from './frame-queue.ts';
import { type Kernel, startKernel } from './kernel-module.ts';

/** What a thread is told that computes frames for another. */
export type FrameMessage =
  /** Comes first and once. @param helper - Its number in the queue. */
  | { kind: 'start'; queue: SharedArrayBuffer; helper: number }
  /** A kernel whose frames may be queued from now on. */
  | ({ kind: 'learn'; kernel: number } & SharedKernel)
  | { kind: 'forget'; kernel: number }
  /** There is something in the queue. */
  | { kind: 'wake' };

/** The side of a thread that computes frames for another, in memories that both see, see `FrameHelpers`. */
export class FrameServer {
  readonly #clock: () => number;
  readonly #kernels = new Map<number, Kernel>();
  #queue: FrameQueue | null = null;
  #helper = 0;

  /** @param clock - Milliseconds. */
  constructor(clock: () => number) {
    this.#clock = clock;
  }

  handle(message: FrameMessage): void {
    switch (message.kind) {
      case 'start':
        this.#queue = new FrameQueue(message.queue);
        this.#helper = message.helper;
        this.#queue.setState(this.#helper, HelperState.idle);
        break;
      case 'learn':
        this.#kernels.set(
          message.kernel,
          startKernel(message.memory, message.isTimed ? this.#clock : () => 0, true),
        );
        break;
      case 'forget':
        this.#kernels.delete(message.kernel);
        break;
      case 'wake':
        this.#work();
        break;
    }
  }

  /** Until nothing is queued that it knows. */
  #work(): void {
    const queue = this.#queue;
    assert(queue, 'it was started');
    try {
      do {
        for (let next = this.#findNext(queue); next; next = this.#findNext(queue)) {
          if (!queue.take(next)) continue;
          this.#kernels.get(next.kernel)!.advance();
          queue.setDone(next.frame);
        }
        queue.setState(this.#helper, HelperState.idle);
        // What is queued between the last look and this was queued by one who saw it busy.
      } while (this.#findNext(queue) && queue.swapState(this.#helper, HelperState.idle, HelperState.busy));
    } catch (error) {
      queue.setState(this.#helper, HelperState.failed);
      throw error;
    }
  }

  #findNext({ next }: FrameQueue): QueuedFrame | null {
    return next && this.#kernels.has(next.kernel) ? next : null;
  }
}
