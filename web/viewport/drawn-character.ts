import type { Scene } from 'three';
import type { Section } from '../../core/rig/index.ts';
import type { PreviewFrame } from '../state/preview-client.ts';
import type { Marks, Visibility } from '../state/session.ts';
import type { FrameLayout } from '../workers/preview-protocol.ts';
import { GarmentMesh, type GarmentView } from './garment-mesh.ts';
import { MarkPoints } from './mark-points.ts';
import { RenderMesh } from './render-mesh.ts';
import { SectionLooks } from './section-looks.ts';
import { SkinnedSection } from './skinned-section.ts';
import type { ViewportSource } from './viewport-source.ts';

/** How the sections of the character are to be drawn. */
export interface CharacterView {
  getVisibility(sectionIndex: number): Visibility;
  showTriangles: boolean;
  isClay: boolean;
  /** Of the simulated mesh of a garment, when other sections are drawn in its place. */
  showsSimMesh(garment: GarmentMesh): boolean;
  getGarmentView(garment: GarmentMesh): Omit<GarmentView, 'visibility' | 'isDrawn' | 'showTriangles'>;
}

/** A section that a layout names: of the character, or the sim mesh of a level that is held. */
function findLayoutSection(
  { sections }: ViewportSource['editor']['character'],
  { levelSections }: FrameLayout,
  index: number,
): Section | undefined {
  return sections[index] ?? levelSections[index - sections.length];
}

/** The character as it is drawn: what follows its joints, what is simulated, and what follows that. */
export class DrawnCharacter {
  readonly garments: GarmentMesh[] = [];
  readonly #renders: RenderMesh[] = [];
  readonly #sections = new Map<number, SkinnedSection>();
  /** Section that each drawn one was made of. */
  readonly #drawnSections = new Map<number, Section>();
  readonly #source: ViewportSource;
  readonly #scene: Scene;
  /** Told when a garment has another mesh. */
  readonly #onReplaced: () => void;
  readonly #looks: SectionLooks;
  #layout: FrameLayout | null = null;
  /** That the drawn sections are of. */
  #shown: ViewportSource['editor']['character'] | null = null;
  #marks: { from: Marks; drawn: MarkPoints | null } | null = null;

  /** @param onDressed - Told when an image of its looks arrived: views are to be set anew. */
  constructor(source: ViewportSource, scene: Scene, onReplaced: () => void, onDressed: () => void) {
    this.#source = source;
    this.#scene = scene;
    this.#onReplaced = onReplaced;
    this.#looks = new SectionLooks(source.looks, onDressed);
  }

  get selected(): GarmentMesh | null {
    const { garmentId } = this.#source.session.state;
    return this.garments.find((garment) => garment.garmentId === garmentId) ?? null;
  }

  /** Takes a frame over. @returns Whether it has another layout: views are to be set anew. */
  takeFrame({ layout, floats }: PreviewFrame): boolean {
    const isNew = layout !== this.#layout;
    if (isNew) this.#takeLayout(layout);
    const { skins } = this.#source.editor.character;
    for (const [index, section] of this.#sections) {
      const { skin, morphs } = this.#drawnSections.get(index)!;
      const [matrices, weights] = [layout.skins[skin]!, layout.morphs[index]!];
      section.update(
        floats.subarray(matrices, matrices + 16 * skins[skin]!.joints.length),
        floats.subarray(weights, weights + morphs.length),
      );
    }
    for (const garment of this.garments) garment.update(floats);
    for (const render of this.#renders) render.update(floats);
    return isNew;
  }

  /**
   * Other skin weights come without another layout: the sections that follow joints are drawn with them all the same.
   * @returns Whether something was made anew: it has no numbers before another frame.
   */
  followCharacter(): boolean {
    const { character } = this.#source.editor;
    const layout = this.#layout;
    if (!layout || character === this.#shown) return false;
    const isSameShape =
      character.sections.length === layout.morphs.length &&
      layout.garments.every(
        ({ sectionIndex, vertexCount }) =>
          character.sections[sectionIndex]?.positions.length === 3 * vertexCount,
      );
    // With another shape another layout is on its way.
    if (isSameShape) this.#takeLayout(layout);
    return isSameShape;
  }

  setView(view: CharacterView): void {
    const { showTriangles, isClay } = view;
    for (const part of [...this.#sections.values(), ...this.#renders, ...this.garments]) {
      const material = part instanceof SkinnedSection ? part.material : part.mesh.material;
      this.#looks.dress(material, part.section, isClay);
    }
    for (const [index, section] of this.#sections) section.setView(view.getVisibility(index), showTriangles);
    for (const garment of this.garments) {
      const renders = this.#renders.filter(({ garmentId }) => garmentId === garment.garmentId);
      const isDrawn = renders.length === 0 || view.showsSimMesh(garment);
      for (const render of renders)
        render.setView(isDrawn ? 'hidden' : view.getVisibility(render.sectionIndex), showTriangles);
      garment.setView({
        ...view.getGarmentView(garment),
        visibility: view.getVisibility(renders[0]?.sectionIndex ?? garment.sectionIndex),
        isDrawn,
        showTriangles,
      });
    }
  }

  /** Pieces that let what is behind them through, in their order. @param eye - World place. */
  orderCards(eye: readonly [number, number, number]): void {
    for (const section of this.#sections.values()) section.orderCards(eye);
  }

  /** Colours the skin by how bodies cover it, see `SkinnedSection.setFit`; sections that are not named stay as they are. */
  setFit(values: ReadonlyMap<number, Float32Array> | null): void {
    for (const [index, section] of this.#sections) section.setFit(values?.get(index) ?? null);
  }

  /** Marks vertices of a section. @returns Whether they are marked now, and were not before. */
  showMarks(marks: Marks | null): boolean {
    if (this.#marks?.from === marks) return false;
    this.#dropMarks();
    if (!marks) return false;
    const drawn = this.#find(marks.sectionIndex)?.mesh;
    const points = drawn ? new MarkPoints(drawn.geometry, marks.vertices) : null;
    points?.addTo(drawn!);
    this.#marks = { from: marks, drawn: points };
    return points !== null;
  }

  /** Where a vertex of a simulated section, or of one that follows it, is drawn now. */
  getVertexPosition(sectionIndex: number, vertex: number): [number, number, number] | null {
    const position = this.#find(sectionIndex)?.mesh.geometry.attributes.position;
    return position ? [position.getX(vertex), position.getY(vertex), position.getZ(vertex)] : null;
  }

  dispose(): void {
    this.#dropMarks();
    this.#looks.dispose();
    for (const part of [...this.#sections.values(), ...this.garments, ...this.#renders]) part.dispose();
  }

  #find(sectionIndex: number): GarmentMesh | RenderMesh | undefined {
    return [...this.garments, ...this.#renders].find((part) => part.sectionIndex === sectionIndex);
  }

  #dropMarks(): void {
    this.#marks?.drawn?.dispose();
    this.#marks = null;
  }

  /** Another list of garments: sections change between following their joints and being simulated. */
  #takeLayout(layout: FrameLayout): void {
    const { character } = this.#source.editor;
    this.#layout = layout;
    this.#shown = character;
    this.#dropMarks();
    const simulated = new Set(
      layout.garments.flatMap((garment) => [
        garment.sectionIndex,
        ...garment.renders.map((render) => render.sectionIndex),
      ]),
    );
    const isDrawn = (index: number): boolean =>
      !simulated.has(index) && !character.sections[index]!.isSimMesh;
    for (const [index, known] of this.#sections) {
      const section = character.sections[index];
      if (section && isDrawn(index) && this.#drawnSections.get(index) === section) continue;
      this.#scene.remove(known.mesh);
      known.dispose();
      this.#sections.delete(index);
    }
    character.sections.forEach((section, index) => {
      if (!isDrawn(index) || this.#sections.has(index)) return;
      const made = new SkinnedSection(section, character.skins[section.skin]!, index);
      this.#sections.set(index, made);
      this.#drawnSections.set(index, section);
      this.#scene.add(made.mesh);
    });
    this.#takeGarments(layout);
  }

  /** Meshes of what is simulated; those of sections that did not change stay. */
  #takeGarments(layout: FrameLayout): void {
    const { character } = this.#source.editor;
    const before = [...this.garments.splice(0), ...this.#renders.splice(0)];
    for (const garment of layout.garments) {
      const section = findLayoutSection(character, layout, garment.sectionIndex);
      // A frame of a preparation that the page does not know yet, or no longer: the next layout follows at once.
      if (!section || section.positions.length !== 3 * garment.vertexCount) continue;
      const known = before.find(
        (part): part is GarmentMesh => part instanceof GarmentMesh && part.fits(section, garment),
      );
      known?.takeLayout(garment);
      this.garments.push(known ?? new GarmentMesh(section, garment));
      for (const render of garment.renders) {
        const drawn = character.sections[render.sectionIndex];
        if (drawn?.positions.length !== 3 * render.vertexCount) continue;
        const bound = before.find(
          (part): part is RenderMesh => part instanceof RenderMesh && part.fits(drawn, garment.id),
        );
        bound?.takeLayout(render);
        this.#renders.push(bound ?? new RenderMesh(drawn, garment.id, render));
      }
    }
    const parts = new Set<GarmentMesh | RenderMesh>([...this.garments, ...this.#renders]);
    for (const part of before) {
      if (parts.has(part)) continue;
      this.#scene.remove(part.mesh);
      part.dispose();
    }
    for (const part of parts) if (!part.mesh.parent) this.#scene.add(part.mesh);
    // What stands over a garment belongs to its mesh.
    if (before.some((part) => !parts.has(part))) this.#onReplaced();
  }
}
