import {
  findSimMeshStep,
  type GarmentRecord,
  listGarments,
  type StepRecord,
} from '../../core/document/index.ts';
import type { SectionName } from '../../core/rig/index.ts';
import type { Sides, StepAct } from '../../core/steps/index.ts';
import type { Editor } from './editor.ts';
import { nameOf, type StepChanges } from './step-changes.ts';

export interface SimMeshSettings {
  /** Metres. */
  edgeLength: number;
  borderDetail: number;
  /** Without a choice: the outer where it is certain that there are two. */
  sides?: Sides | undefined;
}

/** What a garment is simulated on: what is drawn of it, an even mesh over that, a card, or another section of the file. */
export class SimMeshes {
  readonly #editor: Editor;
  readonly #changes: StepChanges;

  constructor(editor: Editor, changes: StepChanges) {
    this.#editor = editor;
    this.#changes = changes;
  }

  /** Simulates a garment on an even mesh made over what is drawn, or makes that mesh anew. Painted values stay in place. */
  async make(garment: GarmentRecord, { edgeLength, borderDetail, sides }: SimMeshSettings): Promise<void> {
    const others = listDrawn(garment).slice(1);
    const chosen = sides && sides !== 'judged' ? { sides } : {};
    await this.#apply(garment, { kind: 'makeSimMesh', edgeLength, borderDetail, ...chosen, others });
  }

  /** Simulates a garment on a flat strip through it, for a small stiff piece that dangles. @param rows - Of two triangles. */
  async makeCard(garment: GarmentRecord, rows: number): Promise<void> {
    await this.#apply(garment, { kind: 'makeCard', rows, others: listDrawn(garment).slice(1) });
  }

  /** Simulates a garment on another section of the file, which is not drawn any more. Painted values stay in place. */
  async simulateOn(garment: GarmentRecord, section: SectionName): Promise<void> {
    const drawn = listDrawn(garment);
    const step = this.#changes.createStep(section, { kind: 'useAsSimMesh' });
    const transfers = this.#changes.transferMaps(garment, nameOf(section));
    const label = `Simulate ${garment.name} on ${section.sectionName}`;
    await this.#changes.apply({
      label,
      records: [[step.id, step]],
      step: step.id,
      transfers,
      more: () => [[garment.id, { ...this.#changes.getNow(garment), ...nameOf(section), renders: drawn }]],
    });
  }

  /** Simulates what is drawn itself again. */
  async drop(garment: GarmentRecord): Promise<void> {
    const step = this.findStep(garment);
    const drawn = garment.renders[0];
    if (!step || !drawn) return;
    const transfers = this.#changes.transferMaps(garment, drawn);
    await this.#changes.apply({
      label: `Simulate ${garment.name} itself`,
      records: [[step.id, null]],
      transfers,
      more: () => [[garment.id, { ...this.#changes.getNow(garment), ...drawn, renders: [] }]],
    });
  }

  /** The step that makes a garment's sim mesh. */
  findStep(garment: GarmentRecord): StepRecord | null {
    return findSimMeshStep(this.#editor.document, garment);
  }

  /** The garment whose sim mesh a step makes. */
  findGarment(step: StepRecord): GarmentRecord | null {
    return (
      listGarments(this.#editor.document).find((garment) => this.findStep(garment)?.id === step.id) ?? null
    );
  }

  async #apply(
    garment: GarmentRecord,
    act: Extract<StepAct, { kind: 'makeSimMesh' | 'makeCard' }>,
  ): Promise<void> {
    const drawn = listDrawn(garment);
    const last = this.findStep(garment);
    const known = last && last.act.kind !== 'useAsSimMesh' ? last : null;
    const step = known ? { ...known, act } : this.#changes.createStep(drawn[0]!, act);
    const transfers = this.#changes.transferMaps(garment, null);
    const label = known ? `Rebuild the sim mesh of ${garment.name}` : `Build a sim mesh for ${garment.name}`;
    await this.#changes.apply({
      label,
      records: [[step.id, step]],
      step: step.id,
      transfers,
      more: ({ made }) => [[garment.id, { ...this.#changes.getNow(garment), ...made!, renders: drawn }]],
    });
  }
}

/** Sections that are seen of a garment. */
function listDrawn(garment: GarmentRecord): readonly SectionName[] {
  return garment.renders.length > 0 ? garment.renders : [nameOf(garment)];
}
