import { assert } from '../../math/index.ts';
import type { ClothSolver } from '../cloth-solver.ts';
import { FrameQueue, HelperState } from './frame-queue.ts';
import type { FrameMessage } from './frame-server.ts';

/** Kernels that a helper keeps; those of cloth that is gone go when others come. */
const MOST_KERNELS = 32;
/** A frame takes milliseconds: threads that are silent for so long have ended, ms. */
const SILENCE = 20_000;
const FAILED = 'A thread that computes cloth has ended. Load the character again.';

/** How another thread is told something. */
export type FramePost = (message: FrameMessage) => void;

/**
 * Threads that compute frames of cloth beside this one, each in the shared memory of a solver, to the same bytes as here. Frames that are
 * begun are queued; this thread and the others take them one after the other. Threads are started when there is first something for them
 * to do; until they are ready this one does it all.
 */
export class FrameHelpers {
  readonly #start: () => FramePost;
  readonly #queue: FrameQueue;
  readonly #posts: FramePost[] = [];
  /** Frames that are queued and not told as finished, with their solvers. */
  readonly #underWay = new Map<number, ClothSolver>();
  /** Number of the kernel of each solver, those used last at the end. */
  readonly #kernels = new Map<ClothSolver, number>();
  readonly #silence: number;
  #next = 0;

  /**
   * @param most - Threads besides this one. @param start - Starts one that gives what it is told to a `FrameServer`.
   * @param silence - After which they have ended, ms.
   */
  constructor(most: number, start: () => FramePost, silence = SILENCE) {
    this.#start = start;
    this.#silence = silence;
    this.#queue = FrameQueue.create(most);
  }

  /** Threads besides this one that are ready. */
  get readyCount(): number {
    const ready = [HelperState.idle, HelperState.busy];
    return this.#posts.filter((_, h) => ready.includes(this.#queue.stateOf(h))).length;
  }

  /** Queues the frame that a solver has begun. @returns False when there is no room just now. */
  add(solver: ClothSolver): boolean {
    const frame = this.#queue.add(this.#numberOf(solver), this.#underWay.size);
    if (frame === null) return false;
    this.#underWay.set(frame, solver);
    return true;
  }

  /** Wakes as many threads as there is something to do for besides this one; starts another when there are too few. */
  wake(): void {
    let wanted = this.#queue.waitingCount - 1;
    let isAnyStarting = false;
    this.#posts.forEach((post, h) => {
      isAnyStarting ||= this.#queue.stateOf(h) === HelperState.starting;
      if (wanted <= 0 || !this.#queue.swapState(h, HelperState.idle, HelperState.busy)) return;
      post({ kind: 'wake' });
      wanted--;
    });
    if (wanted > 0 && !isAnyStarting && this.#posts.length < this.#queue.helperCount) this.#startOne();
  }

  /** Computes the next frame that is queued on this thread. @returns False when there is none. */
  computeOne(): boolean {
    const { next } = this.#queue;
    if (!next) return false;
    if (!this.#queue.take(next)) return this.computeOne();
    this.#underWay.get(next.frame)!.compute();
    this.#queue.setDone(next.frame);
    return true;
  }

  /**
   * Solvers whose frames were computed since it was asked last.
   * @param waits - Until there is one, if any is under way.
   * @throws {Error} When a thread failed, or ended.
   */
  takeFinished(waits: boolean): ClothSolver[] {
    while (true) {
      const { changes } = this.#queue;
      const finished = [...this.#underWay].filter(([frame]) => this.#queue.isDone(frame));
      for (const [frame] of finished) this.#underWay.delete(frame);
      if (finished.length > 0 || !waits || this.#underWay.size === 0)
        return finished.map(([, solver]) => solver);
      if (this.#posts.some((_, h) => this.#queue.stateOf(h) === HelperState.failed)) throw new Error(FAILED);
      if (!this.#queue.wait(changes, this.#silence)) throw new Error(FAILED);
    }
  }

  #startOne(): void {
    const helper = this.#posts.length;
    const post = this.#start();
    this.#posts.push(post);
    post({ kind: 'start', queue: this.#queue.buffer, helper });
    for (const [{ shared }, kernel] of this.#kernels) post({ kind: 'learn', kernel, ...shared! });
  }

  #numberOf(solver: ClothSolver): number {
    const known = this.#kernels.get(solver);
    if (known !== undefined) {
      // To the end: it is used.
      this.#kernels.delete(solver);
      this.#kernels.set(solver, known);
      return known;
    }
    const { shared } = solver;
    assert(shared, 'other threads see the memory of the cloth');
    const kernel = this.#next++;
    this.#kernels.set(solver, kernel);
    this.#tell({ kind: 'learn', kernel, ...shared });
    const [oldest, forgotten] = this.#kernels.entries().next().value!;
    if (this.#kernels.size > MOST_KERNELS) {
      this.#kernels.delete(oldest);
      this.#tell({ kind: 'forget', kernel: forgotten });
    }
    return kernel;
  }

  #tell(message: FrameMessage): void {
    for (const post of this.#posts) post(message);
  }
}
