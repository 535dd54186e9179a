import { createDiff, type DocumentDiff, isEmptyDiff, mergeDiffs } from '../../core/document/index.ts';

/** Diffs that wait for somebody, merged when they are asked for: while a stroke goes on they only queue up. */
export class DiffQueue {
  #diffs: DocumentDiff[] = [];

  get isEmpty(): boolean {
    return this.#diffs.every(isEmptyDiff);
  }

  /** All of them as one; it stays in the queue, and may be changed there. */
  get merged(): DocumentDiff {
    const merged = this.#diffs.length === 1 ? this.#diffs[0]! : this.#diffs.reduce(mergeDiffs, createDiff());
    this.#diffs = [merged];
    return merged;
  }

  push(diff: DocumentDiff): void {
    // What is merged later must not change meanwhile, and the maps of a diff belong to whoever made it.
    this.#diffs.push({ records: new Map(diff.records), arrays: new Map(diff.arrays) });
  }

  /** What was taken and could not be delivered: it comes before all others again. */
  putBack(diff: DocumentDiff): void {
    this.#diffs.unshift(diff);
  }

  /** All of them as one; the queue is empty afterwards. */
  take(): DocumentDiff {
    const { merged } = this;
    this.#diffs = [];
    return merged;
  }
}
