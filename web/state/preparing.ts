import { type GarmentRecord, listSteps, type StepRecord } from '../../core/document/index.ts';
import type { SectionName } from '../../core/rig/index.ts';
import { describeAct, type RimShape, type StepAct } from '../../core/steps/index.ts';
import type { Editor } from './editor.ts';
import type { PreparationClient } from './preparation-client.ts';
import { SimMeshes } from './sim-meshes.ts';
import { type Follow, nameOf, StepChanges } from './step-changes.ts';

export interface EditsEntry {
  section: SectionName;
  act: StepAct;
  packed: Float32Array;
  into: StepRecord | null;
}

/** What an artist does to the mesh of a character: each is a step of its preparation, and one undo step. */
export class Preparing {
  readonly client: PreparationClient;
  readonly simMeshes: SimMeshes;
  readonly #editor: Editor;
  readonly #changes: StepChanges;

  constructor(editor: Editor, client: PreparationClient, follow: Follow) {
    this.client = client;
    this.#editor = editor;
    this.#changes = new StepChanges(editor, client, follow);
    this.simMeshes = new SimMeshes(editor, this.#changes);
  }

  /** Adds a step on a section. @throws {Error} With the reason when it cannot be applied. */
  async addStep(label: string, section: SectionName, act: StepAct): Promise<void> {
    const step = this.#changes.createStep(section, act);
    await this.#changes.apply({
      label,
      records: [[step.id, step]],
      step: step.id,
      transfers: this.#changes.listTransfers(section),
    });
  }

  /** Makes the picked faces of a section a section of their own. @param packed - As `packPicked` makes it. */
  async cut(section: SectionName, name: string, packed: Float32Array): Promise<void> {
    const step = this.#changes.createStep(section, { kind: 'cut', name });
    await this.#changes.apply({
      label: `Cut out ${name}`,
      records: [[step.id, step]],
      step: step.id,
      transfers: this.#changes.listTransfers(section),
      arrays: [[step.id, packed]],
    });
  }

  /**
   * Keeps what was done by hand on some sections as steps, one undo step for all of them.
   * @param entries - `into`: a step that the work replaces, as it was merged with what that step held.
   */
  async putEdits(label: string, entries: readonly EditsEntry[]): Promise<void> {
    const steps = entries.map(({ section, act, into }, i) => {
      const made = this.#changes.createStep(section, act);
      return into ? { ...into, act } : { ...made, order: made.order + i };
    });
    await this.#changes.apply({
      label,
      records: steps.map((step) => [step.id, step]),
      step: steps[0]?.id ?? null,
      arrays: entries.map(({ packed }, i) => [steps[i]!.id, packed]),
    });
  }

  /** The last step on a section, when all steps from it on are of one kind: more of the same goes into it. */
  findLastStep(section: SectionName, kind: StepAct['kind']): StepRecord | null {
    const steps = listSteps(this.#editor.document);
    const tail = steps.slice(steps.findLastIndex(({ act }) => act.kind !== kind) + 1);
    return tail.findLast(({ sectionName }) => sectionName === section.sectionName) ?? null;
  }

  /** Takes several steps on one section away. */
  async removeSteps(label: string, section: SectionName, steps: readonly StepRecord[]): Promise<void> {
    await this.#changes.apply({
      label,
      records: steps.map(({ id }) => [id, null]),
      transfers: this.#changes.listTransfers(section),
    });
  }

  /** Gives what is drawn of a garment an inner side; of one that is simulated itself it rides on the outer. */
  async thicken(garment: GarmentRecord, thickness: number, rim: RimShape): Promise<void> {
    const drawn = nameOf(garment.renders[0] ?? garment);
    const step = this.#changes.createStep(drawn, { kind: 'thicken', thickness, rim });
    const isItself = garment.renders.length === 0;
    await this.#changes.apply({
      label: `Give ${garment.name} an inside`,
      records: [[step.id, step]],
      step: step.id,
      transfers: this.#changes.listTransfers(drawn),
      more: () => (isItself ? [[garment.id, { ...this.#changes.getNow(garment), lining: 'inside' }]] : []),
    });
  }

  /** Takes a step away; those after it are replayed without it. */
  async removeStep(step: StepRecord): Promise<void> {
    const simulated = this.simMeshes.findGarment(step);
    if (simulated) await this.simMeshes.drop(simulated);
    else await this.removeSteps(`Take back ${describeAct(step.act)}`, step, [step]);
  }
}
