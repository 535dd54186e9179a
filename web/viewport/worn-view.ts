import type { Scene } from 'three';
import type { FitWork } from '../state/fit-work.ts';
import type { PreviewFrame } from '../state/preview-client.ts';
import type { Session } from '../state/session.ts';
import type { WeightWork } from '../state/weight-work.ts';
import { WornSection } from '../state/worn-section.ts';
import { MarkPoints } from './mark-points.ts';
import { PickOverlay } from './pick-overlay.ts';
import type { ViewportSource } from './viewport-source.ts';
import { colorWeights } from './weight-colors.ts';
import { WornMesh } from './worn-mesh.ts';

/** Draws the section that is worked on by hand: as it is picked, weighed or shaped. */
export class WornView {
  readonly #source: ViewportSource;
  readonly #scene: Scene;
  readonly #onChange: () => void;
  #drawn: WornMesh | null = null;
  #picked: PickOverlay | null = null;
  #marks: { selected: readonly number[]; points: MarkPoints } | null = null;
  /** What the drawing shows of a hand's work. */
  #shown: { hand: Session['hand']; state: object | null } = { hand: null, state: null };
  #unsubscribe: (() => void) | null = null;

  constructor(source: ViewportSource, scene: Scene, onChange: () => void) {
    this.#source = source;
    this.#scene = scene;
    this.#onChange = onChange;
  }

  get mesh(): WornMesh | null {
    return this.#drawn;
  }

  /** The section that is drawn here instead of as usual, -1 when none is. */
  get sectionIndex(): number {
    return this.#drawn?.worn.sectionIndex ?? -1;
  }

  /** Follows what the page works on. */
  follow(): void {
    const { session } = this.#source;
    const { stage, hand, pick, drapedId, showTriangles } = session.state;
    const isHere = stage === 'garment' && !drapedId;
    const wanted = isHere ? (hand?.worn ?? this.#findPicked(pick)) : null;
    if (wanted !== (this.#drawn?.worn ?? null)) this.#draw(wanted);
    this.#listen(isHere ? hand : null);
    if (!this.#drawn) return;
    this.#drawn.setTriangles(showTriangles || hand?.kind === 'fit');
    if (pick && !hand) {
      this.#picked ??= new PickOverlay(this.#drawn);
      this.#picked.show(pick.isPicked);
    } else this.#dropPicked();
    this.#showWork();
  }

  /** Takes over a frame. */
  update({ layout, floats }: PreviewFrame): void {
    if (!this.#drawn) return;
    const { character } = this.#source.editor;
    const { skin } = this.#drawn.worn.section;
    const start = layout.skins[skin]!;
    this.#drawn.update(floats.subarray(start, start + 16 * character.skins[skin]!.joints.length));
  }

  dispose(): void {
    this.#listen(null);
    this.#draw(null);
  }

  #wornOfPick: WornSection | null = null;

  #findPicked(pick: Session['pick']): WornSection | null {
    const { character } = this.#source.editor;
    const section = pick && character.sections[pick.sectionIndex];
    if (!section) return null;
    if (this.#wornOfPick?.section !== section) {
      const name = { sectionIndex: pick.sectionIndex, sectionName: section.name };
      this.#wornOfPick = new WornSection(character, name);
    }
    return this.#wornOfPick;
  }

  #draw(worn: WornSection | null): void {
    this.#dropPicked();
    this.#dropMarks();
    this.#drawn?.dispose();
    this.#drawn = worn && new WornMesh(worn);
    this.#shown = { hand: null, state: null };
    if (!this.#drawn) return;
    this.#scene.add(this.#drawn.mesh);
    const frame = this.#source.preview.readFrame();
    if (frame) this.update(frame);
  }

  #listen(hand: WeightWork | FitWork | null): void {
    if (this.#shown.hand === hand && (hand === null) === (this.#unsubscribe === null)) return;
    this.#unsubscribe?.();
    this.#unsubscribe = null;
    this.#shown = { hand, state: null };
    if (hand)
      this.#unsubscribe = hand.store.subscribe(() => {
        this.follow();
        this.#onChange();
      });
  }

  #showWork(): void {
    const { hand } = this.#shown;
    const state = hand?.store.state ?? null;
    if (!this.#drawn || this.#shown.state === state) return;
    this.#shown.state = state;
    this.#drawn.setColors(hand?.kind === 'weights' ? colorWeights(hand) : null);
    const selected = hand?.kind === 'weights' ? hand.store.state.selected : [];
    if (this.#marks?.selected !== selected) {
      this.#dropMarks();
      if (selected.length > 0) {
        const points = new MarkPoints(this.#drawn.mesh.geometry, Uint32Array.from(selected));
        points.addTo(this.#drawn.mesh);
        this.#marks = { selected, points };
      }
    }
    const frame = this.#source.preview.readFrame();
    if (frame) this.update(frame);
  }

  #dropPicked(): void {
    this.#picked?.dispose();
    this.#picked = null;
  }

  #dropMarks(): void {
    this.#marks?.points.dispose();
    this.#marks = null;
  }
}
