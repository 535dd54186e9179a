import {
  type AuthoredRecord,
  createDiff,
  type DocumentDiff,
  type GarmentRecord,
  listGarments,
  listMaps,
  listSteps,
  type RecordId,
  type StepRecord,
} from '../../core/document/index.ts';
import {
  adoptRig,
  adoptSections,
  type Character,
  isSameRig,
  type Rig,
  type SectionName,
} from '../../core/rig/index.ts';
import type { StepAct } from '../../core/steps/index.ts';
import type { MapTransfer, PreparedReply } from '../workers/prepare-protocol.ts';
import { createId, type DiffOrigin, type Editor } from './editor.ts';
import type { PreparationClient } from './preparation-client.ts';

/** What other changes keep overtaking is tried so many times at most. */
const MOST_ATTEMPTS = 4;

/** Another preparation of the character, as it crosses to workers. */
export interface Prepared extends Pick<PreparedReply, 'sections' | 'compiled'> {
  /** Null: joints and clips stay what they are. */
  rig: Rig | null;
}

/** Told with every change, with the sections of the character when other steps came with it. */
export type Follow = (diff: DocumentDiff, prepared: Prepared | null) => void;

/** A change of the steps, as it is tried and then kept. */
export interface StepChange {
  /** In undo. */
  label: string;
  /** Null: it goes. */
  records?: readonly [RecordId, AuthoredRecord | null][];
  /** Of the records, the one that must not fail. */
  step?: RecordId | null;
  /** Painted values that go over to what the steps make. */
  transfers?: readonly MapTransfer[];
  /** Further records, by what was made. */
  more?: (reply: PreparedReply) => readonly [RecordId, AuthoredRecord][];
  arrays?: readonly [RecordId, Float32Array][];
}

/**
 * How steps become part of the document: each change is tried in the worker, and becomes one undo step together with the painted
 * values that it carries along. After undo, redo, or another window's save the steps are replayed; when that fails, the
 * undo or redo is put back, so that document and character stay together.
 */
export class StepChanges {
  readonly client: PreparationClient;
  readonly #editor: Editor;
  readonly #follow: Follow;
  /** Result that belongs to the change being made. */
  #result: Prepared | null = null;
  #replays = 0;
  /** While a step is put back whose character could not be made: the former one still stands. */
  #isPuttingBack = false;

  constructor(editor: Editor, client: PreparationClient, follow: Follow) {
    this.#editor = editor;
    this.client = client;
    this.#follow = follow;
    editor.onDiff((diff, origin) => {
      client.follow(diff);
      const isOurs = this.#result !== null || this.#isPuttingBack;
      follow(diff, this.#result);
      if (!isOurs && touchesSteps(diff, editor)) void this.#replay(origin);
    });
  }

  createStep(section: SectionName, act: StepAct): StepRecord {
    const steps = listSteps(this.#editor.document);
    const order = (steps[steps.length - 1]?.order ?? -1) + 1;
    const { sectionIndex, sectionName } = section;
    return { type: 'step', id: createId(), order, sectionIndex, sectionName, act };
  }

  /** A garment as it is when a step is done: it may have been renamed or reordered meanwhile. */
  getNow(garment: GarmentRecord): GarmentRecord {
    const now = this.#editor.document.records.get(garment.id);
    return now?.type === 'garment' ? now : garment;
  }

  /** Channels of garments that a change of a section's mesh reaches. */
  listTransfers(section: SectionName): MapTransfer[] {
    return listGarments(this.#editor.document)
      .filter(({ sectionName }) => sectionName === section.sectionName)
      .flatMap((garment) => this.transferMaps(garment, nameOf(garment)));
  }

  /** All maps of a garment, for a mesh to come. @param to - Null: the section that the step makes. */
  transferMaps(garment: GarmentRecord, to: SectionName | null): MapTransfer[] {
    return listMaps(this.#editor.document, garment.id).map(({ id }) => ({
      channelId: id,
      from: nameOf(garment),
      to,
    }));
  }

  /** Tries a change in the worker, and makes it one undo step with all that it brings. @throws {Error} With the reason when it fails. */
  async apply(change: StepChange, attempt = 1): Promise<void> {
    const { label, records = [], step = null, transfers = [], more, arrays = [] } = change;
    const editor = this.#editor;
    const { revision } = editor;
    const reply = await this.client.tryOut(label, {
      patch: { records: [...records], arrays: [...arrays] },
      stepId: step,
      transfers,
    });
    if (editor.revision !== revision) {
      // Painted on, or undone, meanwhile: the result is of a document that is no more. Once more, on the new one.
      if (attempt === MOST_ATTEMPTS) throw new Error('other changes kept coming meanwhile');
      await this.apply(change, attempt + 1);
      return;
    }
    const diff = createDiff();
    const put = (id: RecordId, after: AuthoredRecord | null): void => {
      diff.records.set(id, [editor.document.records.get(id) ?? null, after]);
    };
    for (const [id, record] of records) {
      put(id, record);
      if (record === null) putArray(diff, editor, id, null);
    }
    for (const [id, record] of more?.(reply) ?? []) put(id, record);
    for (const [id, values] of arrays) putArray(diff, editor, id, values);
    for (const [id, values] of reply.arrays) {
      putArray(diff, editor, id, values);
      const channel = editor.document.records.get(id);
      if (channel?.type === 'channel') put(id, { ...channel, pointCount: values.length });
    }
    this.client.store.set({ problems: reply.problems, faults: reply.faults });
    const prepared = this.#toPrepared(reply);
    this.#result = prepared;
    try {
      editor.changePrepared(label, diff, adopt(editor.character, prepared));
    } finally {
      this.#result = null;
    }
  }

  /** What of a reply is other than what stands here. */
  #toPrepared({ sections, compiled, rig }: PreparedReply): Prepared {
    const wanted = rig ?? this.client.source;
    return { sections, compiled, rig: isSameRig(wanted, this.#editor.character) ? null : wanted };
  }

  async #replay(origin: DiffOrigin, attempt = 1): Promise<void> {
    const replay = ++this.#replays;
    const { revision } = this.#editor;
    try {
      const reply = await this.client.prepare();
      // A newer replay knows more; the worker answers a newer step after this.
      if (replay !== this.#replays) return;
      this.client.store.set({ failure: null });
      const prepared = this.#toPrepared(reply);
      this.#editor.takeCharacter(adopt(this.#editor.character, prepared));
      this.#follow(createDiff(), prepared);
    } catch (error) {
      if (replay !== this.#replays) return;
      if (this.#editor.revision === revision && this.#putBack(origin, error)) return;
      if (attempt < MOST_ATTEMPTS) await this.#replay('other', attempt + 1);
      else
        this.client.store.set({
          failure: `The character could not be prepared as its steps say: ${tell(error)} What you see is older than what is saved. Reload the page.`,
        });
    }
  }

  /** Takes an undo or redo back whose character could not be made. @returns False when it is neither. */
  #putBack(origin: DiffOrigin, error: unknown): boolean {
    if (origin !== 'undo' && origin !== 'redo') return false;
    this.#isPuttingBack = true;
    try {
      const label = origin === 'undo' ? this.#editor.redo() : this.#editor.undo();
      const what = origin === 'undo' ? 'undone' : 'redone';
      this.client.store.set({
        failure: `"${label}" could not be ${what}: ${tell(error)} Everything is as it was before.`,
      });
    } finally {
      this.#isPuttingBack = false;
    }
    return true;
  }
}

function adopt(character: Character, { sections, rig }: Prepared): Character {
  return adoptSections(adoptRig(character, rig), sections);
}

/** The name of a section, of whatever carries one. */
export function nameOf({ sectionIndex, sectionName }: SectionName): SectionName {
  return { sectionIndex, sectionName };
}

function tell(error: unknown): string {
  const { message } = error as Error;
  return /[.!?]$/.test(message) ? message : `${message}.`;
}

function putArray(diff: DocumentDiff, editor: Editor, id: RecordId, after: Float32Array | null): void {
  const before = editor.document.arrays.get(id)?.slice() ?? null;
  if (before || after) diff.arrays.set(id, { before, after });
}

function touchesSteps(diff: DocumentDiff, { document }: Editor): boolean {
  return (
    [...diff.records.values()].some((pair) => pair.some((record) => record?.type === 'step')) ||
    [...diff.arrays.keys()].some((id) => document.records.get(id)?.type === 'step')
  );
}
