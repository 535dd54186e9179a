import {
  type AuthoredRecord,
  type BodyMeshRecord,
  capsulesOfMesh,
  listBodySections,
  listRecords,
  type RecordId,
  type StepRecord,
} from '../../core/document/index.ts';
import type { Character, SectionName } from '../../core/rig/index.ts';
import { type BodyMeshSettings, chooseSectionName, type StepAct } from '../../core/steps/index.ts';
import { createId, type Editor } from './editor.ts';
import type { StepChanges } from './step-changes.ts';

/** Meshes of few vertices over the skin, among the bodies of a set: each is a record with the step that makes its section. */
export class BodyMeshes {
  readonly #editor: Editor;
  readonly #changes: StepChanges;

  constructor(editor: Editor, changes: StepChanges) {
    this.#editor = editor;
    this.#changes = changes;
  }

  /** Sections that one mesh can be made over: those of the skin with most triangles; and those of other skins, which it cannot be. */
  listSkin(): { over: SectionName[]; left: SectionName[] } {
    const { document, character } = this.#editor;
    const indices = listBodySections(document, character);
    const size = (skin: number): number =>
      indices.reduce((sum, index) => {
        const section = character.sections[index]!;
        return sum + (section.skin === skin ? section.triangles.length : 0);
      }, 0);
    const skins = [...new Set(indices.map((index) => character.sections[index]!.skin))];
    const [largest] = skins.sort((p, q) => size(q) - size(p) || p - q);
    const name = (index: number): SectionName => nameSection(character, index);
    const isOver = (index: number): boolean => character.sections[index]!.skin === largest;
    return { over: indices.filter(isOver).map(name), left: indices.filter((i) => !isOver(i)).map(name) };
  }

  /** Makes a mesh over the skin and adds it to a set. @returns Its record's id. @throws {Error} With the reason when it fails. */
  async make(bodySetId: RecordId, { vertexCount, without }: BodyMeshSettings): Promise<RecordId> {
    const [first, ...others] = this.listSkin().over;
    if (!first) throw new Error('the character has no skin beside its garments');
    const name = chooseSectionName(this.#editor.character, 'Body mesh');
    const act: StepAct = { kind: 'makeBodyMesh', name, vertexCount, without: [...without], others };
    const step = this.#changes.createStep(first, act);
    const id = createId();
    await this.#changes.apply({
      label: 'Add a body mesh',
      records: [[step.id, step]],
      step: step.id,
      more: ({ made }) => [
        [
          id,
          {
            type: 'bodyMesh',
            id,
            bodySetId,
            name: made!.sectionName,
            stepId: step.id,
            ...made!,
            margin: 0,
            group: 1,
          },
        ],
      ],
    });
    return id;
  }

  /** Makes a mesh anew with other settings. @throws {Error} With the reason when it fails. */
  async remake(mesh: BodyMeshRecord, { vertexCount, without }: BodyMeshSettings): Promise<void> {
    const step = this.findStep(mesh);
    if (step?.act.kind !== 'makeBodyMesh') return;
    const act = { ...step.act, vertexCount, without: [...without] };
    await this.#changes.apply({
      label: `Make ${mesh.name} anew`,
      records: [[step.id, { ...step, act }]],
      step: step.id,
    });
  }

  /** Takes a mesh away, with the step that made it unless another set has it too. */
  async remove(mesh: BodyMeshRecord): Promise<void> {
    await this.replace(`Remove ${mesh.name}`, [mesh], []);
  }

  /** Tapered capsules in the place of a mesh, one for each joint. @returns Their ids. */
  async turnIntoCapsules(mesh: BodyMeshRecord): Promise<RecordId[]> {
    const bodies = capsulesOfMesh(this.#editor.character, mesh, createId);
    await this.replace(
      `Turn ${mesh.name} into ${bodies.length} capsules`,
      [mesh],
      bodies.map((body) => [body.id, body]),
    );
    return bodies.map(({ id }) => id);
  }

  /** Takes meshes away and changes other records with that, as one undo step. */
  async replace(
    label: string,
    meshes: readonly BodyMeshRecord[],
    records: readonly [RecordId, AuthoredRecord | null][],
  ): Promise<void> {
    const gone = new Set(meshes.map(({ id }) => id));
    const steps = new Set(meshes.flatMap((mesh) => this.findStep(mesh)?.id ?? []));
    for (const { id, stepId } of listRecords(this.#editor.document, 'bodyMesh'))
      if (stepId && !gone.has(id)) steps.delete(stepId);
    const all = [...[...gone, ...steps].map((id): [RecordId, null] => [id, null]), ...records];
    if (steps.size > 0) await this.#changes.apply({ label, records: all });
    else this.#editor.changeRecords(label, all);
  }

  /** The step that makes a mesh; null for one that came with the file. */
  findStep({ stepId }: BodyMeshRecord): StepRecord | null {
    const step = stepId ? this.#editor.document.records.get(stepId) : undefined;
    return step?.type === 'step' ? step : null;
  }

  /** Meshes, of whatever sets, that a step makes. */
  findMeshes(step: StepRecord): BodyMeshRecord[] {
    return listRecords(this.#editor.document, 'bodyMesh').filter(({ stepId }) => stepId === step.id);
  }
}

function nameSection(character: Character, sectionIndex: number): SectionName {
  return { sectionIndex, sectionName: character.sections[sectionIndex]!.name };
}
