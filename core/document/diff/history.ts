import type { DocumentDiff } from './document-diff.ts';
import { mergeDiffs } from './merge-diffs.ts';

export interface HistoryEntry {
  /** Rises from step to step: names this one and no other. */
  id: number;
  /** What the step did, in the words of a menu. */
  label: string;
  diff: DocumentDiff;
}

interface OpenEntry extends HistoryEntry {
  /** Changes of the same key join this step until a mark is set; null: none does. */
  mergeKey: string | null;
}

/** Older steps are forgotten. */
const MOST_STEPS = 500;

/**
 * Two stacks of diffs. What makes one step of many changes is a gesture, not the clock: changes of the same merge key (a
 * dragged slider) join until a mark is set, which whoever hears the pointer or the keys does; all changes between `begin`
 * and `end` join, whatever their key, and such strokes may nest.
 */
export class History {
  readonly #undo: OpenEntry[] = [];
  readonly #redo: HistoryEntry[] = [];
  #isMarked = true;
  #depth = 0;
  #lastId = 0;

  push(label: string, diff: DocumentDiff, mergeKey: string | null): void {
    this.#redo.length = 0;
    const last = this.#undo[this.#undo.length - 1];
    const joins = this.#depth > 0 || (mergeKey !== null && last?.mergeKey === mergeKey);
    if (last && !this.#isMarked && joins) {
      last.diff = mergeDiffs(last.diff, diff);
      return;
    }
    this.#isMarked = false;
    this.#undo.push({ id: ++this.#lastId, label, diff, mergeKey });
    if (this.#undo.length > MOST_STEPS) this.#undo.shift();
  }

  /** What comes is a step of its own, unless a stroke is open. */
  mark(): void {
    if (this.#depth === 0) this.#isMarked = true;
  }

  /** Begins a stroke: one step until its `end`. */
  begin(): void {
    this.mark();
    this.#depth++;
  }

  /** @throws {Error} Without a `begin`. */
  end(): void {
    if (this.#depth === 0) throw new Error('A stroke ends that was not begun.');
    this.#depth--;
    this.mark();
  }

  /** The step to take back; it moves to the other stack. An open stroke goes on as a step of its own. */
  popUndo(): HistoryEntry | null {
    const entry = this.#undo.pop();
    this.#isMarked = true;
    if (!entry) return null;
    this.#redo.push(entry);
    return entry;
  }

  popRedo(): HistoryEntry | null {
    const entry = this.#redo.pop();
    this.#isMarked = true;
    if (!entry) return null;
    this.#undo.push({ ...entry, mergeKey: null });
    return entry;
  }

  /** Id of the step that would be taken back, or null. */
  get newestId(): number | null {
    return this.#undo[this.#undo.length - 1]?.id ?? null;
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
    this.#isMarked = true;
  }
}
