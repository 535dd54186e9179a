import { type DocumentDiff, mergeDiffs } from './document-diff.ts';

export interface HistoryEntry {
  /** What the step did, in the words of a menu. */
  label: string;
  diff: DocumentDiff;
}

/** Two stacks of diffs. Steps with the same merge key that follow each other within a second become one. */
export class History {
  readonly #undo: (HistoryEntry & { mergeKey: string | null; at: number })[] = [];
  readonly #redo: HistoryEntry[] = [];

  push(label: string, diff: DocumentDiff, mergeKey: string | null, now: number): void {
    this.#redo.length = 0;
    const last = this.#undo[this.#undo.length - 1];
    if (last && mergeKey !== null && last.mergeKey === mergeKey && now - last.at < MERGE_WITHIN_MS) {
      last.diff = mergeDiffs(last.diff, diff);
      last.at = now;
      return;
    }
    this.#undo.push({ label, diff, mergeKey, at: now });
    if (this.#undo.length > MOST_STEPS) this.#undo.shift();
  }

  /** The step to take back; it moves to the other stack. */
  popUndo(): HistoryEntry | null {
    const entry = this.#undo.pop();
    if (!entry) return null;
    this.#redo.push(entry);
    return entry;
  }

  popRedo(): HistoryEntry | null {
    const entry = this.#redo.pop();
    if (!entry) return null;
    this.#undo.push({ ...entry, mergeKey: null, at: 0 });
    return entry;
  }

  get undoLabel(): string | null {
    return this.#undo[this.#undo.length - 1]?.label ?? null;
  }

  get redoLabel(): string | null {
    return this.#redo[this.#redo.length - 1]?.label ?? null;
  }

  clear(): void {
    this.#undo.length = 0;
    this.#redo.length = 0;
  }
}

const MERGE_WITHIN_MS = 1000;
const MOST_STEPS = 500;
