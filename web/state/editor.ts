import {
  type AuthoredDocument,
  type AuthoredRecord,
  applyDiff,
  BODY_SET_DEFAULTS,
  type ChannelRecord,
  createDiff,
  createGarment,
  type DocumentDiff,
  type GarmentRecord,
  getScene,
  History,
  invertDiff,
  isEmptyDiff,
  type Limits,
  listGarments,
  listMaps,
  listRecords,
  type RecordId,
  SCENE_ID,
  type SceneRecord,
} from '../../core/document/index.ts';
import type { SparseChange } from '../../core/reach/index.ts';
import type { Character } from '../../core/rig/index.ts';

/** Where a change comes from: made here, a step taken back or done again, or what is no step (another window's save). */
export type DiffOrigin = 'change' | 'undo' | 'redo' | 'other';

export type DiffListener = (diff: DocumentDiff, origin: DiffOrigin) => void;

/**
 * The authored document of one character and everything that may be done to it. Lives outside React. Each change
 * is a diff: saving, the preview and the page listen to the same one.
 */
export class Editor {
  #character: Character;
  readonly document: AuthoredDocument;
  readonly #history = new History();
  readonly #diffListeners = new Set<DiffListener>();
  readonly #listeners = new Set<() => void>();
  readonly #viewListeners = new Set<() => void>();
  /** Rises with every change. */
  #revision = 0;
  #viewRevision = 0;
  /** Strokes that are open. */
  #depth = 0;
  /** Painted on, but not shown to who waits for the end of the stroke. */
  #isPainted = false;

  constructor(character: Character, document: AuthoredDocument) {
    this.#character = character;
    this.document = document;
  }

  /** With all steps of preparation applied. */
  get character(): Character {
    return this.#character;
  }

  /** The character after other steps. Shares nothing with the former one. */
  takeCharacter(character: Character): void {
    this.#character = character;
    this.#revision++;
    for (const listener of this.#listeners) listener();
    this.#showAll();
  }

  get revision(): number {
    return this.#revision;
  }

  /**
   * As `revision`, but it stands still while a stroke paints: what shows names and numbers of records, or whole maps,
   * looks again when the stroke is done.
   */
  get viewRevision(): number {
    return this.#viewRevision;
  }

  /** Tells when `viewRevision` rises. */
  subscribeView = (listener: () => void): (() => void) => {
    this.#viewListeners.add(listener);
    return () => this.#viewListeners.delete(listener);
  };

  get undoLabel(): string | null {
    return this.#history.undoLabel;
  }

  get redoLabel(): string | null {
    return this.#history.redoLabel;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  onDiff(listener: DiffListener): () => void {
    this.#diffListeners.add(listener);
    return () => this.#diffListeners.delete(listener);
  }

  /**
   * Applies a change and puts it on the undo stack.
   * @param mergeKey - Changes with the same key become one step until `mark` is called (a dragged slider).
   */
  change(label: string, diff: DocumentDiff, mergeKey: string | null = null): void {
    if (isEmptyDiff(diff)) return;
    applyDiff(this.document, diff);
    this.#history.push(label, diff, mergeKey);
    this.#emit(diff, 'change');
  }

  /** A change that comes with another preparation of the character: listeners see both at once. */
  changePrepared(label: string, diff: DocumentDiff, character: Character): void {
    this.#character = character;
    this.change(label, diff);
  }

  /** Applies what another window saved; not a step of ours. */
  takeOver(diff: DocumentDiff): void {
    applyDiff(this.document, diff);
    this.#history.clear();
    this.#emit(diff, 'other');
  }

  /** Limits of trials that hold for the whole project: no part of what is authored here, and no step. */
  setProjectLimits(limits: Limits): void {
    this.document.projectLimits = limits;
    this.#revision++;
    for (const listener of this.#listeners) listener();
    this.#showAll();
  }

  /** Until `endStroke`, all changes are one undo step. Strokes may nest. */
  beginStroke(): void {
    this.#history.begin();
    this.#depth++;
  }

  endStroke(): void {
    this.#history.end();
    this.#depth--;
    if (this.#depth === 0 && this.#isPainted) this.#showAll();
  }

  /** A new gesture begins: what it changes is a step of its own. */
  mark(): void {
    this.#history.mark();
  }

  /** Names the step that `undo` would take back; null without any. */
  get newestStep(): number | null {
    return this.#history.newestId;
  }

  /** Takes a step back if it is the newest, and nothing otherwise. @returns Whether it was. */
  undoStep(step: number | null): boolean {
    if (step === null || step !== this.newestStep) return false;
    this.undo();
    return true;
  }

  undo(): string | null {
    const entry = this.#history.popUndo();
    if (!entry) return null;
    const diff = invertDiff(entry.diff);
    applyDiff(this.document, diff);
    this.#emit(diff, 'undo');
    return entry.label;
  }

  redo(): string | null {
    const entry = this.#history.popRedo();
    if (!entry) return null;
    applyDiff(this.document, entry.diff);
    this.#emit(entry.diff, 'redo');
    return entry.label;
  }

  /** Adds, replaces or (with null) removes records as one step. */
  changeRecords(
    label: string,
    records: Iterable<[RecordId, AuthoredRecord | null]>,
    mergeKey: string | null = null,
  ): void {
    const diff = createDiff();
    for (const [id, after] of records) diff.records.set(id, [this.document.records.get(id) ?? null, after]);
    this.change(label, diff, mergeKey);
  }

  updateRecord<T extends AuthoredRecord>(
    label: string,
    record: T,
    update: Partial<T>,
    mergeKey?: string,
  ): void {
    const isSame = (Object.keys(update) as (keyof T)[]).every((key) => Object.is(record[key], update[key]));
    if (!isSame) this.changeRecords(label, [[record.id, { ...record, ...update }]], mergeKey ?? null);
  }

  updateScene(label: string, update: Partial<SceneRecord>): void {
    this.updateRecord(label, getScene(this.document), update, `scene ${Object.keys(update).join()}`);
  }

  /** Looking at another clip is remembered, but is not a step to take back. */
  rememberClip(clipName: string | null): void {
    const scene = getScene(this.document);
    if (scene.clipName === clipName) return;
    const diff = createDiff();
    diff.records.set(SCENE_ID, [scene, { ...scene, clipName }]);
    applyDiff(this.document, diff);
    this.#emit(diff, 'other');
  }

  /** @param mergeKey - As of `change`. */
  paint(label: string, channelId: RecordId, change: SparseChange, mergeKey: string | null = null): void {
    if (change.indices.length === 0) return;
    const diff = createDiff();
    diff.arrays.set(channelId, change);
    this.change(label, diff, mergeKey);
  }

  /** Makes a section a garment. @returns Its id. */
  addGarment(sectionIndex: number): RecordId {
    const made = createGarment(this.character, this.document, sectionIndex, createId);
    const diff = createDiff();
    for (const record of [made.bodySet, made.fabric, made.garment, made.channel]) {
      if (record) diff.records.set(record.id, [null, record]);
    }
    diff.arrays.set(made.channel.id, { before: null, after: made.maxDistances });
    this.change(`Make ${made.garment.name} a garment`, diff);
    return made.garment.id;
  }

  /** Removes a garment with its maps and, when no other wears it, its fabric. */
  removeGarment(garment: GarmentRecord): void {
    const diff = createDiff();
    diff.records.set(garment.id, [garment, null]);
    for (const map of listMaps(this.document, garment.id)) dropMap(this.document, diff, map);
    const fabric = this.document.records.get(garment.fabricId);
    const isShared = listGarments(this.document).some(
      (other) => other.id !== garment.id && other.fabricId === garment.fabricId,
    );
    if (fabric && !isShared) diff.records.set(fabric.id, [fabric, null]);
    this.change(`Remove garment ${garment.name}`, diff);
  }

  /** Moves a garment to another place in the list. */
  reorderGarments(ids: readonly RecordId[]): void {
    this.changeRecords(
      'Reorder garments',
      ids.flatMap((id, order): [RecordId, AuthoredRecord][] => {
        const garment = this.document.records.get(id);
        return garment?.type === 'garment' && garment.order !== order ? [[id, { ...garment, order }]] : [];
      }),
    );
  }

  /** The body set of a garment, made when the character has none. */
  ensureBodySet(): RecordId {
    const existing = listRecords(this.document, 'bodySet')[0];
    if (existing) return existing.id;
    const id = createId();
    this.changeRecords('Add a body set', [[id, { type: 'bodySet', id, name: 'Main', ...BODY_SET_DEFAULTS }]]);
    return id;
  }

  #emit(diff: DocumentDiff, origin: DiffOrigin): void {
    this.#revision++;
    for (const listener of this.#diffListeners) listener(diff, origin);
    for (const listener of this.#listeners) listener();
    if (this.#depth === 0 || diff.records.size > 0) this.#showAll();
    else this.#isPainted = true;
  }

  #showAll(): void {
    this.#isPainted = false;
    this.#viewRevision++;
    for (const listener of this.#viewListeners) listener();
  }
}

function dropMap(document: AuthoredDocument, diff: DocumentDiff, map: ChannelRecord): void {
  diff.records.set(map.id, [map, null]);
  diff.arrays.set(map.id, { before: document.arrays.get(map.id)?.slice() ?? null, after: null });
}

export function createId(): RecordId {
  return crypto.randomUUID() as RecordId;
}
