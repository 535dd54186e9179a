import { sampleField } from '../../core/mesh/index.ts';
import { measureHold, smoothPositions } from '../../core/prepare/index.ts';
import { computeFalloff, type Falloff } from '../../core/reach/index.ts';
import { findSection, invertBind, type SectionName } from '../../core/rig/index.ts';
import { BoundSection } from './bound-section.ts';
import type { Editor } from './editor.ts';
import { Keeping } from './keeping.ts';
import type { Preparing } from './preparing.ts';
import { putShapes } from './put-shapes.ts';
import { getSectionMesh } from './section-mesh.ts';
import { Store } from './store.ts';

export interface FitSettings {
  tool: 'pull' | 'smooth';
  /** m, along the surface. */
  radius: number;
  falloff: Falloff;
  /** Of smoothing, 0 to 1. */
  strength: number;
  /** The cloth's lengths stay those from before the hand. */
  keepsLengths: boolean;
  /** Rises when points move. */
  revision: number;
}

/** A section being shaped by hand in its bind pose. Each stroke becomes part of one step of preparation. */
export class FitWork {
  readonly kind = 'fit';
  readonly store = new Store<FitSettings>({
    tool: 'pull',
    radius: 0.12,
    falloff: 'smooth',
    strength: 0.5,
    keepsLengths: false,
    revision: 0,
  });
  #bound: BoundSection;
  /** Places as shaped, world space of the bind pose. [points, 3] */
  #places: Float32Array;
  #pull: { hold: Float32Array; from: Float32Array } | null = null;
  readonly #editor: Editor;
  readonly #preparing: Preparing;
  /** A mesh that is simulated in this one's place, and goes along. */
  readonly #simulated: SectionName | null;
  readonly #keeping = new Keeping();

  constructor(editor: Editor, preparing: Preparing, section: SectionName, simulated: SectionName | null) {
    this.#editor = editor;
    this.#preparing = preparing;
    this.#simulated = simulated;
    this.#bound = new BoundSection(editor.character, section);
    this.#places = this.#bound.mesh.pointPositions.slice();
  }

  get bound(): BoundSection {
    return this.#bound;
  }

  get positions(): Float32Array {
    return this.#places;
  }

  /** Takes hold of the cloth around a point. */
  grip(point: number): void {
    const { radius, falloff } = this.store.state;
    const hold = measureHold(this.#bound.hand, this.#places, point, radius, falloff);
    this.#pull = { hold, from: this.#places.slice() };
  }

  /** Draws what is held so far from where it was taken. @param way - m. */
  pull(displacement: readonly [number, number, number]): void {
    if (!this.#pull) return;
    const { hold, from } = this.#pull;
    for (let i = 0; i < from.length; i++)
      this.#places[i] = from[i]! + hold[Math.floor(i / 3)]! * displacement[i % 3]!;
    this.#moved();
  }

  /** Smooths the cloth around a place. */
  smooth(center: readonly [number, number, number]): void {
    const { radius, falloff, strength } = this.store.state;
    const shares = Float32Array.from({ length: this.#bound.mesh.pointCount }, (_, p) => {
      const away = Math.hypot(...center.map((value, k) => value - this.#places[3 * p + k]!));
      return strength * computeFalloff(falloff, away / radius);
    });
    smoothPositions(this.#bound.hand, this.#places, shares);
    this.#moved();
  }

  /** Makes what was moved since the last time part of the preparation. */
  async keep(): Promise<void> {
    this.#pull = null;
    const keepAll = async (): Promise<void> => {
      for (
        let displacements = this.#measureDisplacements();
        displacements;
        displacements = this.#measureDisplacements()
      ) {
        await this.#put(displacements);
        // What was moved meanwhile comes on top of what is kept now.
        this.#bound = new BoundSection(this.#editor.character, this.#bound.name);
      }
    };
    // What could not be kept is not shown either.
    await this.#keeping.run(keepAll, () => this.#reopen());
    this.follow();
  }

  /** After undo, or another step: what is worked on is the section as it is now. @returns False when it is gone. */
  follow(): boolean {
    const { character } = this.#editor;
    if (this.#keeping.isBusy || character.sections[this.#bound.sectionIndex] === this.#bound.section)
      return true;
    return this.#reopen();
  }

  #reopen(): boolean {
    if (findSection(this.#editor.character, this.#bound.name) < 0) return false;
    this.#bound = new BoundSection(this.#editor.character, this.#bound.name);
    this.#places = this.#bound.mesh.pointPositions.slice();
    this.store.set({ revision: this.store.state.revision + 1 });
    return true;
  }

  /** null when nothing was moved farther than a float can tell. */
  #measureDisplacements(): Float32Array | null {
    const { pointPositions: positions } = this.#bound.mesh;
    if (positions.length !== this.#places.length) return null;
    const displacements = this.#places.map((value, i) =>
      Math.abs(value - positions[i]!) > 2e-6 ? value - positions[i]! : 0,
    );
    return displacements.some((displacement) => displacement !== 0) ? displacements : null;
  }

  async #put(displacements: Float32Array): Promise<void> {
    const { name, mesh } = this.#bound;
    const changes = [{ section: name, displacements }];
    if (this.#simulated) {
      const index = findSection(this.#editor.character, this.#simulated);
      const { pointPositions: positions } = getSectionMesh(this.#editor.character, index);
      const source = { positions: mesh.pointPositions, triangles: mesh.faces };
      changes.unshift({
        section: this.#simulated,
        displacements: sampleField(source, displacements, 3, positions),
      });
    }
    const state = { editor: this.#editor, preparing: this.#preparing };
    await putShapes(state, `Shape ${name.sectionName}`, changes, this.store.state.keepsLengths);
  }

  #moved(): void {
    const { section } = this.#bound;
    this.#bound.positions.set(invertBind(this.#editor.character, section.skin, this.#places));
    this.store.set({ revision: this.store.state.revision + 1 });
  }
}
