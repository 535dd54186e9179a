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
import { adoptSections, type SectionName } from '../../core/rig/index.ts';
import { describeAct, isSimMeshStep, type RimShape, type StepAct } from '../../core/steps/index.ts';
import type { MapTransfer, PreparedReply } from '../workers/prepare-protocol.ts';
import { createId, type DiffOrigin, type Editor } from './editor.ts';
import type { PreparationClient } from './preparation-client.ts';

export interface SimMeshSettings {
  /** Metres. */
  edgeLength: number;
  borderDetail: number;
}

export interface EditsEntry {
  section: SectionName;
  act: StepAct;
  packed: Float32Array;
  into: StepRecord | null;
}

/** What other changes keep overtaking is tried so many times at most. */
const MOST_ATTEMPTS = 4;

/** Told with every change, with the sections of the character when other steps came with it. */
type Follow = (diff: DocumentDiff, prepared: Prepared | null) => void;

/** Another preparation of the character, as it crosses to workers. */
export type Prepared = Pick<PreparedReply, 'sections' | 'compiled'>;

/**
 * What changes the preparation of a character: each step is tried in the worker, and becomes one undo step together with
 * the painted values that it carries along. After undo, redo, or another window's save the steps are replayed; when
 * that fails, the undo or redo is put back, so that document and character stay together.
 */
export class Preparing {
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

  /** Adds a step on a section. @throws {Error} With the reason when it cannot be applied. */
  async addStep(label: string, section: SectionName, act: StepAct): Promise<void> {
    const step = this.#createStep(section, act);
    await this.#change(label, new Map([[step.id, step]]), step.id, this.#listTransfers(section));
  }

  /** Makes the picked faces of a section a section of their own. @param packed - As `packPicked` makes it. */
  async cut(section: SectionName, name: string, packed: Float32Array): Promise<void> {
    const step = this.#createStep(section, { kind: 'cut', name });
    const records = new Map([[step.id, step]]);
    await this.#change(
      `Cut out ${name}`,
      records,
      step.id,
      this.#listTransfers(section),
      () => [],
      new Map([[step.id, packed]]),
    );
  }

  /**
   * Keeps what was done by hand on some sections as steps, one undo step for all of them.
   * @param entries - `into`: a step that the work replaces, as it was merged with what that step held.
   */
  async putEdits(label: string, entries: readonly EditsEntry[]): Promise<void> {
    const records = new Map<RecordId, AuthoredRecord | null>();
    const arrays = new Map<RecordId, Float32Array>();
    entries.forEach(({ section, act, packed, into }, i) => {
      const made = this.#createStep(section, act);
      const step = into ? { ...into, act } : { ...made, order: made.order + i };
      records.set(step.id, step);
      arrays.set(step.id, packed);
    });
    const [first] = records.keys();
    await this.#change(label, records, first ?? null, [], () => [], arrays);
  }

  /** The last step on a section, when all steps from it on are of one kind: more of the same goes into it. */
  findLastStep(section: SectionName, kind: StepAct['kind']): StepRecord | null {
    const steps = listSteps(this.#editor.document);
    const tail = steps.slice(steps.findLastIndex(({ act }) => act.kind !== kind) + 1);
    return tail.findLast(({ sectionName }) => sectionName === section.sectionName) ?? null;
  }

  /** Takes several steps on one section away. */
  async removeSteps(label: string, section: SectionName, steps: readonly StepRecord[]): Promise<void> {
    const records = new Map<RecordId, AuthoredRecord | null>(steps.map(({ id }) => [id, null]));
    await this.#change(label, records, null, this.#listTransfers(section));
  }

  /** Gives what is drawn of a garment an inner side; of one that is simulated itself it rides on the outer. */
  async thicken(garment: GarmentRecord, thickness: number, rim: RimShape): Promise<void> {
    const drawn = nameOf(garment.renders[0] ?? garment);
    const step = this.#createStep(drawn, { kind: 'thicken', thickness, rim });
    const isItself = garment.renders.length === 0;
    await this.#change(
      `Give ${garment.name} an inside`,
      new Map([[step.id, step]]),
      step.id,
      this.#listTransfers(drawn),
      () => (isItself ? [[garment.id, { ...this.#getNow(garment), lining: 'inside' }]] : []),
    );
  }

  /** Takes a step away; those after it are replayed without it. */
  async removeStep(step: StepRecord): Promise<void> {
    const bound = this.#findSimulated(step);
    if (bound) await this.dropSimMesh(bound);
    else {
      const records = new Map<RecordId, AuthoredRecord | null>([[step.id, null]]);
      await this.#change(`Take back ${describeAct(step.act)}`, records, null, this.#listTransfers(step));
    }
  }

  /** Simulates a garment on an even mesh made over what is drawn, or makes that mesh anew. Painted values stay in place. */
  async makeSimMesh(garment: GarmentRecord, { edgeLength, borderDetail }: SimMeshSettings): Promise<void> {
    const others = listDrawn(garment).slice(1);
    await this.#simulateOn(garment, { kind: 'makeSimMesh', edgeLength, borderDetail, others });
  }

  /** Simulates a garment on a flat strip through it, for a small stiff piece that dangles. @param rows - Of two triangles. */
  async makeCard(garment: GarmentRecord, rows: number): Promise<void> {
    await this.#simulateOn(garment, { kind: 'makeCard', rows, others: listDrawn(garment).slice(1) });
  }

  /** Simulates a garment on another section of the file, which is not drawn any more. Painted values stay in place. */
  async simulateOnSection(garment: GarmentRecord, section: SectionName): Promise<void> {
    const drawn = listDrawn(garment);
    const step = this.#createStep(section, { kind: 'useAsSimMesh' });
    const transfers = this.#transferMaps(garment, nameOf(section));
    const label = `Simulate ${garment.name} on ${section.sectionName}`;
    await this.#change(label, new Map([[step.id, step]]), step.id, transfers, () => [
      [garment.id, { ...this.#getNow(garment), ...nameOf(section), renders: drawn }],
    ]);
  }

  async #simulateOn(
    garment: GarmentRecord,
    act: Extract<StepAct, { kind: 'makeSimMesh' | 'makeCard' }>,
  ): Promise<void> {
    const drawn = listDrawn(garment);
    const last = this.findSimStep(garment);
    const known = last && last.act.kind !== 'useAsSimMesh' ? last : null;
    const step = known ? { ...known, act } : this.#createStep(drawn[0]!, act);
    const transfers = this.#transferMaps(garment, null);
    const label = known ? `Rebuild the sim mesh of ${garment.name}` : `Build a sim mesh for ${garment.name}`;
    await this.#change(label, new Map([[step.id, step]]), step.id, transfers, ({ made }) => [
      [garment.id, { ...this.#getNow(garment), ...made!, renders: drawn }],
    ]);
  }

  /** Simulates what is drawn itself again. */
  async dropSimMesh(garment: GarmentRecord): Promise<void> {
    const step = this.findSimStep(garment);
    const drawn = garment.renders[0];
    if (!step || !drawn) return;
    const transfers = this.#transferMaps(garment, drawn);
    const records = new Map<RecordId, AuthoredRecord | null>([[step.id, null]]);
    await this.#change(`Simulate ${garment.name} itself`, records, null, transfers, () => [
      [garment.id, { ...this.#getNow(garment), ...drawn, renders: [] }],
    ]);
  }

  /** The step that makes a garment's sim mesh. */
  findSimStep(garment: GarmentRecord): StepRecord | null {
    const [drawn] = garment.renders;
    if (!drawn) return null;
    const found = listSteps(this.#editor.document).find(
      ({ act, sectionName }) =>
        isSimMeshStep(act) && sectionName === (act.kind === 'useAsSimMesh' ? garment : drawn).sectionName,
    );
    return found ?? null;
  }

  #createStep(section: SectionName, act: StepAct): StepRecord {
    const steps = listSteps(this.#editor.document);
    const order = (steps[steps.length - 1]?.order ?? -1) + 1;
    const { sectionIndex, sectionName } = section;
    return { type: 'step', id: createId(), order, sectionIndex, sectionName, act };
  }

  /** A garment as it is when a step is done: it may have been renamed or reordered meanwhile. */
  #getNow(garment: GarmentRecord): GarmentRecord {
    const now = this.#editor.document.records.get(garment.id);
    return now?.type === 'garment' ? now : garment;
  }

  #findSimulated(step: StepRecord): GarmentRecord | null {
    return (
      listGarments(this.#editor.document).find((garment) => this.findSimStep(garment)?.id === step.id) ?? null
    );
  }

  /** Channels of garments that a change of a section's mesh reaches. */
  #listTransfers(section: SectionName): MapTransfer[] {
    return listGarments(this.#editor.document)
      .filter(({ sectionName }) => sectionName === section.sectionName)
      .flatMap((garment) => this.#transferMaps(garment, nameOf(garment)));
  }

  /** All maps of a garment, for a mesh to come. @param to - Null: the section that the step makes. */
  #transferMaps(garment: GarmentRecord, to: SectionName | null): MapTransfer[] {
    return listMaps(this.#editor.document, garment.id).map(({ id }) => ({
      channelId: id,
      from: nameOf(garment),
      to,
    }));
  }

  async #change(
    label: string,
    records: Map<RecordId, AuthoredRecord | null>,
    stepId: RecordId | null,
    transfers: MapTransfer[],
    more: (reply: PreparedReply) => [RecordId, AuthoredRecord][] = () => [],
    arrays: ReadonlyMap<RecordId, Float32Array> = new Map(),
    attempt = 1,
  ): Promise<void> {
    const editor = this.#editor;
    const { revision } = editor;
    const reply = await this.client.tryOut(label, {
      patch: { records: [...records], arrays: [...arrays] },
      stepId,
      transfers,
    });
    if (editor.revision !== revision) {
      // Painted on, or undone, meanwhile: the result is of a document that is no more. Once more, on the new one.
      if (attempt === MOST_ATTEMPTS) throw new Error('other changes kept coming meanwhile');
      await this.#change(label, records, stepId, transfers, more, arrays, attempt + 1);
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
    for (const [id, record] of more(reply)) put(id, record);
    for (const [id, values] of arrays) putArray(diff, editor, id, values);
    for (const [id, values] of reply.arrays) {
      putArray(diff, editor, id, values);
      const channel = editor.document.records.get(id);
      if (channel?.type === 'channel') put(id, { ...channel, pointCount: values.length });
    }
    this.client.store.set({ problems: reply.problems });
    this.#result = reply;
    try {
      editor.changePrepared(label, diff, adoptSections(editor.character, reply.sections));
    } finally {
      this.#result = null;
    }
  }

  async #replay(origin: DiffOrigin, attempt = 1): Promise<void> {
    const replay = ++this.#replays;
    const { revision } = this.#editor;
    try {
      const reply = await this.client.prepare();
      // A newer replay knows more; the worker answers a newer step after this.
      if (replay !== this.#replays) return;
      this.client.store.set({ failure: null });
      this.#editor.takeCharacter(adoptSections(this.#editor.character, reply.sections));
      this.#follow(createDiff(), reply);
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

function tell(error: unknown): string {
  const { message } = error as Error;
  return /[.!?]$/.test(message) ? message : `${message}.`;
}

function nameOf({ sectionIndex, sectionName }: SectionName): SectionName {
  return { sectionIndex, sectionName };
}

/** Sections that are seen of a garment. */
function listDrawn(garment: GarmentRecord): readonly SectionName[] {
  return garment.renders.length > 0 ? garment.renders : [nameOf(garment)];
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
