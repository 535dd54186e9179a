import { type Camera, type Ray, Vector3 } from 'three';
import { computeMiddle, findSeenFaces, isInsideOutline, pickAround } from '../../core/mesh/index.ts';
import type { OutlineDrawing } from './outline-drawing.ts';
import type { PointerTool } from './pointer-tool.ts';
import type { ViewportSource } from './viewport-source.ts';
import type { WornMesh } from './worn-mesh.ts';

/** Brushes or outlines faces into what will be cut out, or out of it. */
export class PickTool implements PointerTool {
  readonly #source: ViewportSource;
  readonly #camera: Camera;
  readonly #outline: OutlineDrawing;
  readonly #getWorn: () => WornMesh | null;

  constructor(
    source: ViewportSource,
    camera: Camera,
    outline: OutlineDrawing,
    getWorn: () => WornMesh | null,
  ) {
    this.#source = source;
    this.#camera = camera;
    this.#outline = outline;
    this.#getWorn = getWorn;
  }

  press(ray: Ray, event: PointerEvent): boolean {
    const { pick } = this.#source.session.state;
    if (!pick || !this.#getWorn()) return false;
    if (pick.tool === 'brush') return this.#brush(ray);
    this.#outline.begin(event);
    return true;
  }

  move(ray: Ray, event: PointerEvent, isPressed: boolean): void {
    if (!isPressed) return;
    if (this.#source.session.state.pick?.tool === 'lasso') this.#outline.extend(event);
    else this.#brush(ray);
  }

  release(): void {
    const outline = this.#outline.end();
    if (outline.length >= 6) this.#pickInside(outline);
  }

  leave(): void {
    this.#outline.end();
  }

  /** @returns False beside the section. */
  #brush(ray: Ray): boolean {
    const { pick } = this.#source.session.state;
    const worn = this.#getWorn();
    const hit = worn?.hit(ray);
    if (!pick || !worn || !hit) return false;
    const { mesh } = worn.worn;
    this.#mark(pickAround(mesh, worn.pointPositions, hit.triangle, hit.point, pick.radius));
    return true;
  }

  /** @param outline - [n, 2], CSS pixels on the canvas. */
  #pickInside(outline: readonly number[]): void {
    const worn = this.#getWorn();
    const { pick } = this.#source.session.state;
    if (!worn || !pick) return;
    const { mesh } = worn.worn;
    const [width, height] = this.#outline.size;
    const eye = this.#camera.getWorldPosition(new Vector3());
    const isSeen = pick.isThrough ? null : findSeenFaces(mesh, worn.pointPositions, eye.toArray());
    const inside: number[] = [];
    for (let f = 0; f < mesh.faces.length / 3; f++) {
      if (isSeen?.[f] === 0) continue;
      const at = new Vector3(...computeMiddle(mesh.faces, worn.pointPositions, f)).project(this.#camera);
      if (isInsideOutline(outline, ((at.x + 1) / 2) * width, ((1 - at.y) / 2) * height)) inside.push(f);
    }
    this.#mark(inside);
  }

  #mark(faces: readonly number[]): void {
    const { session } = this.#source;
    const { pick } = session.state;
    if (!pick) return;
    const isPicked = pick.isPicked.slice();
    for (const f of faces) isPicked[f] = pick.isErasing ? 0 : 1;
    session.set({ pick: { ...pick, isPicked } });
  }
}
