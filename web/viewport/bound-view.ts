import type { Scene } from 'three';
import { BoundSection } from '../state/bound-section.ts';
import type { FitWork } from '../state/fit-work.ts';
import type { PreviewFrame } from '../state/preview-client.ts';
import type { Session } from '../state/session.ts';
import type { WeightWork } from '../state/weight-work.ts';
import { BoundMesh } from './bound-mesh.ts';
import { MarkPoints } from './mark-points.ts';
import { PickOverlay } from './pick-overlay.ts';
import type { ViewportSource } from './viewport-source.ts';
import { colorWeights } from './weight-colors.ts';

/** Draws the section that is worked on by hand: as it is picked, weighed or shaped. */
export class BoundView {
  readonly #source: ViewportSource;
  readonly #scene: Scene;
  readonly #onChange: () => void;
  #drawn: BoundMesh | null = null;
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

  get mesh(): BoundMesh | null {
    return this.#drawn;
  }

  /** The section that is drawn here instead of as usual, -1 when none is. */
  get sectionIndex(): number {
    return this.#drawn?.bound.sectionIndex ?? -1;
  }

  /** Follows what the page works on. */
  follow(): void {
    const { session } = this.#source;
    const { stage, hand, pick, drapedId, showTriangles } = session.state;
    const isHere = (stage === 'garment' && !drapedId) || (stage === 'bodies' && pick !== null);
    const wanted = isHere ? (hand?.bound ?? this.#findPicked(pick)) : null;
    if (wanted !== (this.#drawn?.bound ?? null)) this.#draw(wanted);
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
    const { skin } = this.#drawn.bound.section;
    const start = layout.skins[skin]!;
    this.#drawn.update(floats.subarray(start, start + 16 * character.skins[skin]!.joints.length));
  }

  dispose(): void {
    this.#listen(null);
    this.#draw(null);
  }

  #boundOfPick: BoundSection | null = null;

  #findPicked(pick: Session['pick']): BoundSection | null {
    const { character } = this.#source.editor;
    const section = pick && character.sections[pick.sectionIndex];
    if (!section) return null;
    if (this.#boundOfPick?.section !== section) {
      const name = { sectionIndex: pick.sectionIndex, sectionName: section.name };
      this.#boundOfPick = new BoundSection(character, name);
    }
    return this.#boundOfPick;
  }

  #draw(bound: BoundSection | null): void {
    this.#dropPicked();
    this.#dropMarks();
    this.#drawn?.dispose();
    this.#drawn = bound && new BoundMesh(bound);
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
