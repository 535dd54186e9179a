import { type Camera, Plane, type Ray, Vector3 } from 'three';
import { runPreparation } from '../state/run-preparation.ts';
import type { BoundMesh } from './bound-mesh.ts';
import type { BrushCursor } from './brush-cursor.ts';
import type { PointerTool } from './pointer-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

/** Draws and smooths the section that is shaped by hand, in the plane that faces the eye. */
export class FitTool implements PointerTool {
  readonly #source: ViewportSource;
  readonly #cursor: BrushCursor;
  readonly #camera: Camera;
  readonly #getBound: () => BoundMesh | null;
  #drag: { plane: Plane; start: Vector3 } | null = null;

  constructor(source: ViewportSource, cursor: BrushCursor, camera: Camera, getBound: () => BoundMesh | null) {
    this.#source = source;
    this.#cursor = cursor;
    this.#camera = camera;
    this.#getBound = getBound;
  }

  press(ray: Ray): boolean {
    const bound = this.#getBound();
    const work = this.#work;
    const hit = bound?.hit(ray);
    if (!hit || !work) return false;
    if (work.store.state.tool === 'pull') {
      const start = new Vector3(...hit.point);
      const plane = new Plane().setFromNormalAndCoplanarPoint(
        this.#camera.getWorldDirection(new Vector3()),
        start,
      );
      this.#drag = { plane, start };
      work.grip(bound!.findNearestPoint(hit));
      this.#cursor.hide();
    } else work.smooth(hit.point);
    return true;
  }

  move(ray: Ray, _event: PointerEvent, isPressed: boolean): void {
    const work = this.#work;
    if (!work) return;
    if (isPressed && this.#drag) {
      const at = ray.intersectPlane(this.#drag.plane, new Vector3());
      if (at) work.pull(at.sub(this.#drag.start).toArray());
      return;
    }
    const hit = this.#getBound()?.hit(ray);
    if (!hit) {
      this.#cursor.hide();
      return;
    }
    this.#cursor.show(hit.point, hit.normal, work.store.state.radius);
    if (isPressed) work.smooth(hit.point);
  }

  release(): void {
    this.#drag = null;
    const work = this.#work;
    if (work) void runPreparation(() => work.keep());
  }

  leave(): void {
    this.#cursor.hide();
  }

  get #work() {
    const { hand } = this.#source.session.state;
    return hand?.kind === 'fit' ? hand : null;
  }
}
