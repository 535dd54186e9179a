import { dequal } from 'dequal';
import type { Scene } from 'three';
import {
  type BodyRecord,
  getScene,
  listBodyMeshes,
  listFollowingBodies,
  listGarments,
  type RecordId,
} from '../../core/document/index.ts';
import { type Character, type MorphValues, shapeCharacter, USUAL_SIZE } from '../../core/rig/index.ts';
import type { PreviewFrame } from '../state/preview-client.ts';
import type { Session } from '../state/session.ts';
import type { ShownFit } from '../workers/body-figures-loop.ts';
import { CONTACT, MOST_CONTACTS } from '../workers/preview-protocol.ts';
import { BodiesView } from './bodies-view.ts';
import { ContactMarks } from './contact-marks.ts';
import type { DrawnCharacter } from './drawn-character.ts';
import { toFitValues } from './fit-colors.ts';
import type { ViewportSource } from './viewport-source.ts';

/** A body that was touched looks so for this many frames more: cloth that just lifts off does not flicker. */
const HOLD_FRAMES = 5;

/** Collision bodies over the character: where they are, where cloth lies on them, and how they cover the skin. */
export class BodiesOverlay {
  readonly view = new BodiesView();
  /** The set that this one is compared with. */
  readonly #beside = new BodiesView({ isBeside: true });
  readonly #contacts = new ContactMarks();
  readonly #source: ViewportSource;
  readonly #drawn: DrawnCharacter;
  /** Bodies that are drawn. */
  #shown: ReadonlySet<RecordId> = new Set();
  /** Frames for which each body still looks touched. */
  readonly #held = new Map<RecordId, number>();
  #asksContacts = false;
  #shaped: { of: Character; morphs: MorphValues; shaped: Character } | null = null;
  #fit: { figures: ShownFit; pose: Session['fitMap'] } | null = null;

  constructor(source: ViewportSource, scene: Scene, drawn: DrawnCharacter) {
    this.#source = source;
    this.#drawn = drawn;
    scene.add(this.view.group, this.#beside.group, this.#contacts.group);
  }

  /** Bodies that cloth lies on now. */
  get touched(): ReadonlySet<RecordId> {
    return new Set(this.#held.keys());
  }

  follow({ garmentId, stage, showBodies, bodyIds, fitMap, besideSetId, pick }: Session): void {
    const { document, character } = this.#source.editor;
    const garment = garmentId ? document.records.get(garmentId) : undefined;
    const setId = garment?.type === 'garment' ? garment.bodySetId : listGarments(document)[0]?.bodySetId;
    const isStage = stage === 'bodies';
    const shape = { base: character, shaped: this.#shape(character, getScene(document).morphs) };
    const all = setId && (showBodies || isStage) ? listFollowingBodies(document, setId, shape) : [];
    // What is being fitted is seen alone: the others would lie over the skin that is picked.
    const isPicking = pick?.purpose === 'fit';
    const bodies = isPicking ? all.filter(({ id }) => bodyIds.includes(id)) : all;
    const meshes = setId && (showBodies || isStage) && !isPicking ? listBodyMeshes(document, setId) : [];
    this.#shown = new Set([...bodies, ...meshes].map(({ id }) => id));
    this.view.meshes.setMeshes(character, meshes, isStage ? bodyIds : []);
    this.view.setJoints(character.skeleton.names);
    // In another body shape they are where they follow it to; they are edited in the plain one.
    this.view.setBodies(bodies, isStage ? bodyIds : [], shape.base === shape.shaped);
    this.#beside.setJoints(character.skeleton.names);
    const isBeside = isStage && besideSetId !== null && besideSetId !== setId;
    const beside = isBeside ? listFollowingBodies(document, besideSetId, shape) : [];
    this.#beside.setBodies(
      beside.filter((other) => !all.some((own) => isAlike(own, other))),
      [],
    );
    this.#beside.meshes.setMeshes(
      character,
      isBeside
        ? listBodyMeshes(document, besideSetId).filter(
            (other) => !meshes.some((own) => own.sectionName === other.sectionName),
          )
        : [],
      [],
    );
    this.#askContacts(isStage);
    this.#contacts.group.visible = isStage && !isPicking;
    const fit = this.#source.bodyFigures?.store.state.fit;
    const isMapped = isStage && fitMap !== 'off' && fit?.bodySetId === setId;
    this.#showFit(isMapped ? fit!.figures : null, fitMap);
  }

  /** Draws what is no body in proportion to a figure. @param size - Of the figure, m. */
  setSize(size: number): void {
    this.view.setScale(size / USUAL_SIZE);
    this.#contacts.scale = size / USUAL_SIZE;
  }

  /** @param nodes - World matrices of all nodes, [n, 16]. */
  update(frame: PreviewFrame, nodes: Float32Array): void {
    const { layout, floats } = frame;
    for (const view of [this.view, this.#beside]) {
      view.update(nodes);
      view.meshes.update(frame, this.#source.editor.character);
    }
    const { contacts } = layout;
    const rows = floats.subarray(contacts, contacts + 1 + CONTACT.length * MOST_CONTACTS);
    const ids = this.#source.preview.bodyIds as readonly RecordId[];
    const touched = this.#contacts.update(rows, (body) => this.#shown.has(ids[body]!));
    for (const [id, frames] of this.#held) {
      if (frames > 1) this.#held.set(id, frames - 1);
      else this.#held.delete(id);
    }
    for (const body of touched) this.#held.set(ids[body]!, HOLD_FRAMES);
    this.view.setTouched(this.touched);
  }

  /** Colours meshes that were made anew. */
  refreshFit(): void {
    const fit = this.#fit;
    this.#fit = null;
    this.#showFit(fit?.figures ?? null, fit?.pose ?? 'off');
  }

  dispose(): void {
    this.view.dispose();
    this.#beside.dispose();
    this.#contacts.dispose();
  }

  /** The character in a body shape: the very same one while nothing changes. */
  #shape(character: Character, morphs: MorphValues): Character {
    if (this.#shaped?.of !== character || this.#shaped.morphs !== morphs)
      this.#shaped = { of: character, morphs, shaped: shapeCharacter(character, morphs) };
    return this.#shaped.shaped;
  }

  #askContacts(isOn: boolean): void {
    if (isOn === this.#asksContacts) return;
    this.#asksContacts = isOn;
    this.#source.preview.send({ kind: 'contacts', isOn });
  }

  #showFit(figures: ShownFit | null, pose: Session['fitMap']): void {
    if (this.#fit?.figures === figures && this.#fit?.pose === pose) return;
    if (!this.#fit && !figures) return;
    this.#fit = figures && { figures, pose };
    this.#drawn.setFit(
      figures &&
        new Map(
          figures.sections.map(({ index, bind, clips }) => [
            index,
            toFitValues(pose === 'bind' ? bind : clips),
          ]),
        ),
    );
  }
}

/** Whether two bodies of different sets are the same shape in the same place. */
function isAlike(own: BodyRecord, other: BodyRecord): boolean {
  return own.jointName === other.jointName && own.margin === other.margin && dequal(own.shape, other.shape);
}
