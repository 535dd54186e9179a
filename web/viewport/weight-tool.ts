import type { Ray } from 'three';
import type { MeshRayHit, WeldedIndex } from '../../core/mesh/index.ts';
import type { CursorReading } from '../state/cursor-reading.ts';
import { runPreparation } from '../state/run-preparation.ts';
import type { BoundMesh } from './bound-mesh.ts';
import type { BrushCursor } from './brush-cursor.ts';
import type { PointerTool } from './pointer-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

/** Paints, smooths and selects skin weights of the section that is worked on. */
export class WeightTool implements PointerTool {
  readonly #source: ViewportSource;
  readonly #cursor: BrushCursor;
  readonly #getBound: () => BoundMesh | null;
  readonly #onReading: (reading: CursorReading | null) => void;

  constructor(
    source: ViewportSource,
    cursor: BrushCursor,
    getBound: () => BoundMesh | null,
    onReading: (reading: CursorReading | null) => void,
  ) {
    this.#source = source;
    this.#cursor = cursor;
    this.#getBound = getBound;
    this.#onReading = onReading;
  }

  press(ray: Ray, event: PointerEvent): boolean {
    const hit = this.#getBound()?.hit(ray);
    if (!hit) return false;
    const work = this.#work;
    if (work?.store.state.tool === 'select' && !event.shiftKey) work.select([], false);
    this.#apply(hit, ray);
    return true;
  }

  move(ray: Ray, event: PointerEvent, isPressed: boolean): void {
    const bound = this.#getBound();
    const work = this.#work;
    const hit = bound?.hit(ray);
    if (!hit || !work) {
      this.leave();
      return;
    }
    const { tool, radius, joint } = work.store.state;
    this.#cursor.show(hit.point, hit.normal, tool === 'select' ? 0.008 : radius);
    const point = bound!.findNearestPoint(hit);
    const { dense, jointCount } = work.bound;
    const value = dense[jointCount * point + joint]!;
    this.#onReading({
      x: event.offsetX,
      y: event.offsetY,
      value,
      point: point as WeldedIndex,
      joint: work.jointNames[joint]!,
    });
    if (isPressed) this.#apply(hit, ray);
  }

  release(): void {
    const work = this.#work;
    if (work) void runPreparation(() => work.keep());
  }

  leave(): void {
    this.#cursor.hide();
    this.#onReading(null);
  }

  get #work() {
    const { hand } = this.#source.session.state;
    return hand?.kind === 'weights' ? hand : null;
  }

  #apply(hit: MeshRayHit, ray: Ray): void {
    const bound = this.#getBound();
    const work = this.#work;
    if (!bound || !work) return;
    if (work.store.state.tool === 'select') {
      work.select([bound.findNearestPoint(hit)], true);
      return;
    }
    work.dab(
      {
        positions: bound.pointPositions,
        stride: 3,
        normals: bound.pointNormals,
        neighbours: work.bound.hand.neighbours,
      },
      {
        center: hit.point,
        view: [ray.direction.x, ray.direction.y, ray.direction.z],
        normalAtHit: hit.normal,
      },
    );
  }
}
