import { type Camera, type Ray, Vector3 } from 'three';
import { computeMiddle, findSeenFaces, isInsideOutline, pickAround } from '../../core/mesh/index.ts';
import type { BoundMesh } from './bound-mesh.ts';
import type { OutlineDrawing } from './outline-drawing.ts';
import type { PointerTool } from './pointer-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

/** Brushes or outlines faces into what will be cut out, or out of it. */
export class PickTool implements PointerTool {
  readonly #source: ViewportSource;
  readonly #camera: Camera;
  readonly #outline: OutlineDrawing;
  readonly #getBound: () => BoundMesh | null;

  constructor(
    source: ViewportSource,
    camera: Camera,
    outline: OutlineDrawing,
    getBound: () => BoundMesh | null,
  ) {
    this.#source = source;
    this.#camera = camera;
    this.#outline = outline;
    this.#getBound = getBound;
  }

  press(ray: Ray, event: PointerEvent): boolean {
    const { pick } = this.#source.session.state;
    if (!pick || !this.#getBound()) return false;
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
    const bound = this.#getBound();
    const hit = bound?.hit(ray);
    if (!pick || !bound || !hit) return false;
    const { mesh } = bound.bound;
    this.#mark(pickAround(mesh, bound.pointPositions, hit.triangle, hit.point, pick.radius));
    return true;
  }

  /** @param outline - [n, 2], CSS pixels on the canvas. */
  #pickInside(outline: readonly number[]): void {
    const bound = this.#getBound();
    const { pick } = this.#source.session.state;
    if (!bound || !pick) return;
    const { mesh } = bound.bound;
    const [width, height] = this.#outline.size;
    const eye = this.#camera.getWorldPosition(new Vector3());
    const isSeen = pick.isThrough ? null : findSeenFaces(mesh, bound.pointPositions, eye.toArray());
    const inside: number[] = [];
    for (let f = 0; f < mesh.faces.length / 3; f++) {
      if (isSeen?.[f] === 0) continue;
      const at = new Vector3(...computeMiddle(mesh.faces, bound.pointPositions, f)).project(this.#camera);
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
