import { findChannel, type GarmentRecord, listSteps, type StepRecord } from '../../core/document/index.ts';
import type { ChannelKind } from '../../core/reach/index.ts';
import { findSection, type Placement, type SectionName } from '../../core/rig/index.ts';
import { describeAct, packLiningMaps, type RimShape, type StepAct } from '../../core/steps/index.ts';
import { BodyMeshes } from './body-meshes.ts';
import type { Editor } from './editor.ts';
import type { PreparationClient } from './preparation-client.ts';
import { getSectionMesh } from './section-mesh.ts';
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
  readonly bodyMeshes: BodyMeshes;
  readonly #editor: Editor;
  readonly #changes: StepChanges;

  constructor(editor: Editor, client: PreparationClient, follow: Follow) {
    this.client = client;
    this.#editor = editor;
    this.#changes = new StepChanges(editor, client, follow);
    this.simMeshes = new SimMeshes(editor, this.#changes);
    this.bodyMeshes = new BodyMeshes(editor, this.#changes);
  }

  /** The step that sets size and up axis of the whole, when there is one. */
  findPlacement(): StepRecord | null {
    return listSteps(this.#editor.document).find(({ act }) => act.kind === 'place') ?? null;
  }

  /** Sets size and up axis of the whole character: a step before all others, and none when it is as in the file. */
  async place(placement: Placement): Promise<void> {
    const known = this.findPlacement();
    const act: StepAct = { kind: 'place', ...placement };
    const isAsInFile = placement.scale === 1 && placement.up === '+Y';
    if (isAsInFile && !known) return;
    const [first] = this.#editor.character.sections;
    const step = known ?? {
      ...this.#changes.createStep({ sectionIndex: 0, sectionName: first!.name }, act),
      order: (listSteps(this.#editor.document)[0]?.order ?? 1) - 1,
    };
    await this.#changes.apply({
      label: isAsInFile ? 'Take size and up axis of the file' : `Set ${describeAct(act)}`,
      records: [[step.id, isAsInFile ? null : { ...step, act }]],
      step: isAsInFile ? null : step.id,
    });
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

  /** The step that gave a garment its inside here, if one did. */
  findInside(garment: GarmentRecord): StepRecord | null {
    const { sectionName } = garment.renders[0] ?? garment;
    const isOne = (step: StepRecord): boolean =>
      step.act.kind === 'thicken' && step.sectionName === sectionName;
    return listSteps(this.#editor.document).findLast(isOne) ?? null;
  }

  /** Maps of thickness and edge in use, the settings where there is one alone, as the step takes them; null without either. */
  #packLiningMaps(garment: GarmentRecord, thickness: number, rim: RimShape): Float32Array | null {
    const { document, character } = this.#editor;
    const { pointPositions: positions, faces } = getSectionMesh(character, findSection(character, garment));
    const read = (kind: ChannelKind): Float32Array | null => {
      const map = findChannel(document, garment.id, kind);
      const values = map && document.arrays.get(map.id);
      return values?.length === positions.length / 3 ? values : null;
    };
    const [thicknesses, rounded] = [read('thickness'), read('roundedEdge')];
    if (!thicknesses && !rounded) return null;
    const fill = (value: number): Float32Array => new Float32Array(positions.length / 3).fill(value);
    return packLiningMaps(
      { positions, triangles: faces },
      thicknesses ?? fill(thickness),
      rounded ?? fill(rim === 'rounded' ? 1 : 0),
    );
  }

  /**
   * Gives what is drawn of a garment an inner side, or makes the one that was made anew; of one that is simulated itself it
   * rides on the outer. Maps of thickness and edge count instead of the two settings.
   */
  async thicken(garment: GarmentRecord, thickness: number, rim: RimShape): Promise<void> {
    const drawn = nameOf(garment.renders[0] ?? garment);
    const packed = this.#packLiningMaps(garment, thickness, rim);
    const act: StepAct = { kind: 'thicken', thickness, rim, ...(packed && { byMaps: true }) };
    const made = this.findInside(garment);
    const step = made ? { ...made, act } : this.#changes.createStep(drawn, act);
    const isItself = garment.renders.length === 0;
    await this.#changes.apply({
      label: made ? `Rebuild inner layer of ${garment.name}` : `Add inner layer to ${garment.name}`,
      records: [[step.id, step]],
      step: step.id,
      arrays: packed ? [[step.id, packed]] : [],
      transfers: this.#changes.listTransfers(drawn),
      more: () =>
        isItself && !made ? [[garment.id, { ...this.#changes.getNow(garment), lining: 'inside' }]] : [],
    });
  }

  /** Takes a step away; those after it are replayed without it. */
  async removeStep(step: StepRecord): Promise<void> {
    const simulated = this.simMeshes.findGarment(step);
    const meshes = this.bodyMeshes.findMeshes(step);
    if (simulated) await this.simMeshes.drop(simulated);
    else if (meshes.length > 0)
      await this.bodyMeshes.replace(`Take back ${describeAct(step.act)}`, meshes, []);
    else await this.removeSteps(`Take back ${describeAct(step.act)}`, step, [step]);
  }
}
