import type { RecordId } from '../../core/document/index.ts';
import { createDiff, type DocumentDiff } from '../../core/document/index.ts';
import { ApiError, api, type CharacterInfo, type ErrorBody } from './api.ts';
import type { Editor } from './editor.ts';

export type SaveState =
  | { kind: 'saved' }
  | { kind: 'unsaved' }
  | { kind: 'saving' }
  | { kind: 'failed'; message: string }
  | { kind: 'conflict'; conflicts: NonNullable<ErrorBody['conflicts']> };

/** Changes are sent this long after the first unsaved one: well within the two seconds that may be lost. */
const SAVE_AFTER_MS = 700;
const RETRY_AFTER_MS = 3000;

/** What is on the screen is not what is stored: the message says why, and what to do. */
export class UnsavedError extends Error {
  override readonly name = 'UnsavedError';
}

/**
 * Saves what changed, a little after it changed, as one request at a time. A save that fails is tried again with
 * everything that is unsaved; one that lost to another window stops saving until the user has chosen.
 */
export class Saver {
  readonly #editor: Editor;
  readonly #characterId: string;
  readonly #versions: Map<string, number>;
  readonly #dirtyRecords = new Set<RecordId>();
  readonly #dirtyArrays = new Set<RecordId>();
  readonly #listeners = new Set<() => void>();
  #revision: number;
  #state: SaveState = { kind: 'saved' };
  #timer: ReturnType<typeof setTimeout> | null = null;
  /** The save under way; it never rejects. */
  #sending: Promise<void> | null = null;

  constructor(editor: Editor, info: CharacterInfo) {
    this.#editor = editor;
    this.#characterId = info.id;
    this.#versions = new Map(info.records.map(({ record, version }) => [record.id, version]));
    this.#revision = info.revision;
    editor.onDiff((diff) => this.#note(diff));
    addEventListener('beforeunload', (event) => {
      if (this.#dirtyRecords.size === 0 && !this.#sending) return;
      void this.#saveNow();
      event.preventDefault();
    });
  }

  /** Number of the character's state that the newest save made, or that was loaded. */
  get revision(): number {
    return this.#revision;
  }

  /** Version of each record as it is stored, as far as this page knows. */
  get versions(): Record<string, number> {
    return Object.fromEntries(this.#versions);
  }

  get state(): SaveState {
    return this.#state;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /**
   * Saves until nothing is left unsaved, a save under way included: afterwards what is on the screen is what is stored.
   * @throws {UnsavedError} When a save fails or loses to another window; what is unsaved stays so.
   */
  async flush(): Promise<void> {
    for (;;) {
      await this.#sending;
      if (this.#state.kind === 'conflict')
        throw new UnsavedError(
          'Another window has saved other changes to the same things. Choose which to keep first.',
        );
      if (this.#dirtyRecords.size === 0) return;
      await this.#saveNow();
      // Told by the state, since a save never rejects.
      const { state } = this;
      if (state.kind === 'failed')
        throw new UnsavedError(
          `Your newest changes could not be saved: ${state.message} They are kept on this page; try again.`,
        );
    }
  }

  /** Sends everything unsaved, unless a save is under way. Its outcome is the state. */
  #saveNow(): Promise<void> {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    if (this.#sending) return this.#sending;
    if (this.#dirtyRecords.size === 0 || this.#state.kind === 'conflict') return Promise.resolve();
    this.#sending = this.#send().finally(() => {
      this.#sending = null;
      if (this.#dirtyRecords.size > 0 && this.#state.kind === 'unsaved') this.#schedule(SAVE_AFTER_MS);
    });
    return this.#sending;
  }

  async #send(): Promise<void> {
    const records = [...this.#dirtyRecords];
    const arrays = new Set(this.#dirtyArrays);
    this.#dirtyRecords.clear();
    this.#dirtyArrays.clear();
    this.#setState({ kind: 'saving' });
    try {
      const { versions, revision } = await api.saveChanges(
        this.#characterId,
        records.map((id) => this.#describe(id, arrays.has(id))),
      );
      for (const [id, version] of Object.entries(versions)) this.#versions.set(id, version);
      this.#revision = revision;
      this.#setState({ kind: this.#dirtyRecords.size > 0 ? 'unsaved' : 'saved' });
    } catch (error) {
      for (const id of records) this.#dirtyRecords.add(id);
      for (const id of arrays) this.#dirtyArrays.add(id);
      this.#handleFailure(error);
    }
  }

  /** Ends a conflict: keep ours over theirs, or take theirs. */
  resolve(choice: 'ours' | 'theirs'): void {
    if (this.#state.kind !== 'conflict') return;
    const { conflicts } = this.#state;
    for (const { id, version } of conflicts) this.#versions.set(id, version);
    this.#setState({ kind: 'unsaved' });
    if (choice === 'theirs') {
      for (const { id } of conflicts) {
        this.#dirtyRecords.delete(id as RecordId);
        this.#dirtyArrays.delete(id as RecordId);
      }
      const { document } = this.#editor;
      const diff = createDiff();
      for (const { id: plainId, record, array } of conflicts) {
        const id = plainId as RecordId;
        diff.records.set(id, [document.records.get(id) ?? null, record]);
        if (array !== null)
          diff.arrays.set(id, { before: document.arrays.get(id)?.slice() ?? null, after: fromBase64(array) });
      }
      this.#isTakingOver = true;
      this.#editor.takeOver(diff);
      this.#isTakingOver = false;
    }
    if (this.#dirtyRecords.size > 0) void this.#saveNow();
    else this.#setState({ kind: 'saved' });
  }

  #isTakingOver = false;

  #note(diff: DocumentDiff): void {
    if (this.#isTakingOver) return;
    for (const id of diff.records.keys()) this.#dirtyRecords.add(id);
    for (const id of diff.arrays.keys()) {
      this.#dirtyArrays.add(id);
      this.#dirtyRecords.add(id);
    }
    if (this.#state.kind === 'saved' || this.#state.kind === 'saving') this.#setState({ kind: 'unsaved' });
    if (this.#state.kind !== 'conflict') this.#schedule(SAVE_AFTER_MS);
  }

  #schedule(milliseconds: number): void {
    if (this.#timer) return;
    this.#timer = setTimeout(() => void this.#saveNow(), milliseconds);
  }

  #describe(id: RecordId, withArray: boolean): object {
    const record = this.#editor.document.records.get(id) ?? null;
    const values = withArray && record ? this.#editor.document.arrays.get(id) : undefined;
    return {
      id,
      baseVersion: this.#versions.get(id) ?? 0,
      record,
      ...(values ? { array: toBase64(values) } : {}),
    };
  }

  #handleFailure(error: unknown): void {
    if (error instanceof ApiError && error.status === 409 && error.body.conflicts) {
      this.#setState({ kind: 'conflict', conflicts: error.body.conflicts });
      return;
    }
    this.#setState({ kind: 'failed', message: error instanceof Error ? error.message : String(error) });
    this.#schedule(RETRY_AFTER_MS);
  }

  #setState(state: SaveState): void {
    this.#state = state;
    for (const listener of this.#listeners) listener();
  }
}

function toBase64(values: Float32Array): string {
  const bytes = new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
  let text = '';
  for (let i = 0; i < bytes.length; i += 0x8000)
    text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(text);
}

function fromBase64(text: string): Float32Array {
  return new Float32Array(Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0)).buffer);
}
