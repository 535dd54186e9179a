import {
  type AuthoredRecord,
  createDiff,
  type DocumentDiff,
  type FieldConflict,
  isSparse,
  mergeRecords,
  mergeValues,
  type RecordId,
} from '../../core/document/index.ts';
import { compareValues } from '../../core/reach/index.ts';
import type { ConflictBody } from '../wire/errors.ts';
import type { RecordSave } from '../wire/save-format.ts';
import { ApiError, api, type CharacterInfo } from './api.ts';
import { DiffQueue } from './diff-queue.ts';
import type { Editor } from './editor.ts';

/** One record that two windows changed: what each has, and where they differ. */
export interface OpenConflict {
  id: RecordId;
  version: number;
  mine: AuthoredRecord | null;
  theirs: AuthoredRecord | null;
  theirArray: Float32Array | null;
  /** With every change of both; where they differ, mine. */
  merged: { record: AuthoredRecord | null; array: Float32Array | null };
  /** Values that both changed to different ones. */
  fields: FieldConflict[];
  /** Vertices that both changed to different values. */
  vertices: number;
  /** What the server said: work may go on while the user chooses. */
  body: ConflictBody;
}

export type SaveState =
  | { kind: 'saved' }
  | { kind: 'unsaved' }
  | { kind: 'saving' }
  | { kind: 'failed'; message: string }
  | { kind: 'conflict'; conflicts: readonly OpenConflict[] };

/** Changes are sent this long after the first unsaved one: well within the two seconds that may be lost. */
const SAVE_AFTER_MS = 700;
const RETRY_AFTER_MS = 3000;

/** What is on the screen is not what is stored: the message says why, and what to do. */
export class UnsavedError extends Error {
  override readonly name = 'UnsavedError';
}

/**
 * Saves what changed, a little after it changed, as one request at a time; of arrays only the values that did. A save that
 * fails is tried again with everything that is unsaved. One that lost to another window is merged with what that saved, when
 * they are in different records, fields or vertices; otherwise saving stops until the user has chosen.
 */
export class Saver {
  readonly #editor: Editor;
  readonly #characterId: string;
  readonly #versions: Map<string, number>;
  /** From what is stored, or being sent, to what is on the screen. */
  readonly #unsaved = new DiffQueue();
  readonly #listeners = new Set<() => void>();
  #revision: number;
  #state: SaveState = { kind: 'saved' };
  #timer: ReturnType<typeof setTimeout> | null = null;
  /** The save under way; it never rejects. */
  #sending: Promise<void> | null = null;

  /** @param isOff - Nothing is saved: what is on the screen is an earlier version. */
  constructor(editor: Editor, info: CharacterInfo, isOff = false) {
    this.#editor = editor;
    this.#characterId = info.id;
    this.#versions = new Map(info.records.map(({ record, version }) => [record.id, version]));
    this.#revision = info.revision;
    if (isOff) return;
    editor.onDiff((diff) => this.#note(diff));
    addEventListener('beforeunload', (event) => {
      if (this.#unsaved.isEmpty && !this.#sending) return;
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
      if (this.#unsaved.isEmpty) return;
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
    if (this.#unsaved.isEmpty || this.#state.kind === 'conflict') return Promise.resolve();
    this.#sending = this.#send().finally(() => {
      this.#sending = null;
      if (!this.#unsaved.isEmpty && this.#state.kind === 'unsaved') this.#schedule(SAVE_AFTER_MS);
    });
    return this.#sending;
  }

  async #send(): Promise<void> {
    const sent = this.#unsaved.take();
    this.#setState({ kind: 'saving' });
    try {
      const { versions, revision } = await api.saveChanges(this.#characterId, this.#describe(sent));
      for (const [id, version] of Object.entries(versions)) this.#versions.set(id, version);
      this.#revision = revision;
      this.#setState({ kind: this.#unsaved.isEmpty ? 'saved' : 'unsaved' });
    } catch (error) {
      this.#unsaved.putBack(sent);
      this.#handleFailure(error);
    }
  }

  /** Ends a conflict: where both changed the same, mine or theirs; what only one changed stays. */
  resolve(choice: 'mine' | 'theirs'): void {
    if (this.#state.kind !== 'conflict') return;
    const conflicts = this.#state.conflicts.map(({ body }) => this.#compare(body));
    this.#take(
      conflicts.map((conflict) => ({
        ...conflict,
        ...(choice === 'theirs' && { merged: { record: conflict.theirs, array: conflict.theirArray } }),
      })),
    );
  }

  /** Keeps mine as a version under a name, then takes theirs, as a step that can be undone. */
  async keepAsVersion(name: string): Promise<void> {
    if (this.#state.kind !== 'conflict') return;
    const { conflicts } = this.#state;
    this.resolve('mine');
    await this.flush();
    await api.keepVersion(this.#characterId, name);
    const { document } = this.#editor;
    const diff = createDiff();
    for (const { id, theirs, theirArray } of conflicts) {
      diff.records.set(id, [document.records.get(id) ?? null, theirs]);
      if (theirArray)
        diff.arrays.set(id, { before: document.arrays.get(id)?.slice() ?? null, after: theirArray });
    }
    this.#editor.change('Take what the other window saved', diff);
    await this.flush();
  }

  /** Puts what was merged on the screen; of it, what differs from what is stored is unsaved. */
  #take(conflicts: readonly OpenConflict[]): void {
    const { document } = this.#editor;
    const unsaved = this.#unsaved.merged;
    const diff = createDiff();
    for (const { id, version, theirs, theirArray, merged } of conflicts) {
      this.#versions.set(id, version);
      unsaved.records.delete(id);
      unsaved.arrays.delete(id);
      diff.records.set(id, [document.records.get(id) ?? null, merged.record]);
      if (merged.array)
        diff.arrays.set(id, { before: document.arrays.get(id)?.slice() ?? null, after: merged.array });
      const change = theirArray && merged.array ? compareArrays(theirArray, merged.array) : null;
      if (change) unsaved.arrays.set(id, change);
      if (JSON.stringify(theirs) !== JSON.stringify(merged.record))
        unsaved.records.set(id, [theirs, merged.record]);
    }
    this.#isTakingOver = true;
    this.#editor.takeOver(diff);
    this.#isTakingOver = false;
    this.#setState({ kind: this.#unsaved.isEmpty ? 'saved' : 'unsaved' });
    if (!this.#unsaved.isEmpty) this.#schedule(0);
  }

  #isTakingOver = false;

  #note(diff: DocumentDiff): void {
    if (this.#isTakingOver) return;
    this.#unsaved.push(diff);
    if (this.#state.kind === 'saved' || this.#state.kind === 'saving') this.#setState({ kind: 'unsaved' });
    if (this.#state.kind !== 'conflict') this.#schedule(SAVE_AFTER_MS);
  }

  #schedule(milliseconds: number): void {
    if (this.#timer) return;
    this.#timer = setTimeout(() => void this.#saveNow(), milliseconds);
  }

  /** What is sent of a diff: whole records, and of arrays what changed. */
  #describe(diff: DocumentDiff): RecordSave[] {
    const { records, arrays } = this.#editor.document;
    return [...new Set([...diff.records.keys(), ...diff.arrays.keys()])].map((id): RecordSave => {
      const record = records.get(id) ?? null;
      const change = record ? diff.arrays.get(id) : undefined;
      const values = arrays.get(id);
      const array =
        !change || !values
          ? null
          : isSparse(change)
            ? {
                indices: change.indices,
                values: Float32Array.from(change.indices, (index) => values[index]!),
              }
            : { indices: null, values };
      return { id, baseVersion: this.#versions.get(id) ?? 0, record, ...(array && { array }) };
    });
  }

  #handleFailure(error: unknown): void {
    if (error instanceof ApiError && error.status === 409 && error.body.conflicts) {
      const conflicts = error.body.conflicts.map((body) => this.#compare(body));
      const isMerged = conflicts.every(({ fields, vertices }) => fields.length + vertices === 0);
      if (isMerged) this.#take(conflicts);
      else this.#setState({ kind: 'conflict', conflicts });
      return;
    }
    this.#setState({ kind: 'failed', message: error instanceof Error ? error.message : String(error) });
    this.#schedule(RETRY_AFTER_MS);
  }

  /** What this window and another made of one record, from the state that both knew. */
  #compare(body: ConflictBody): OpenConflict {
    const { id: plainId, version, record: theirs, array } = body;
    const id = plainId as RecordId;
    const { records, arrays } = this.#editor.document;
    const unsaved = this.#unsaved.merged;
    const mine = records.get(id) ?? null;
    const pair = unsaved.records.get(id);
    const { record, conflicts } = mergeRecords(pair ? pair[0] : mine, mine, theirs);
    const theirArray = array === null ? null : fromBase64(array);
    const change = unsaved.arrays.get(id);
    const merged = change
      ? mergeValues(change, arrays.get(id) ?? null, theirArray)
      : { values: theirArray, conflicts: 0 };
    return {
      id,
      version,
      mine,
      theirs,
      theirArray,
      merged: { record, array: merged.values },
      fields: conflicts,
      vertices: merged.conflicts,
      body,
    };
  }

  #setState(state: SaveState): void {
    this.#state = state;
    for (const listener of this.#listeners) listener();
  }
}

type ArrayChange = DocumentDiff['arrays'] extends Map<RecordId, infer Change> ? Change : never;

/** From one array to another of the same vertices only what differs; null when nothing does. */
function compareArrays(from: Float32Array, to: Float32Array): ArrayChange | null {
  if (from.length !== to.length) return { before: from, after: to };
  const change = compareValues(from, to);
  return change.indices.length > 0 ? change : null;
}

function fromBase64(text: string): Float32Array {
  return new Float32Array(Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0)).buffer);
}
