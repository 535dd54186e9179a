import { type Camera, Plane, type Ray, Vector3 } from 'three';
import type { RecordId } from '../../core/document/index.ts';
import { findFirstGarment, findNearestPoint } from './find-garment.ts';
import type { GarmentMesh } from './garment-mesh.ts';
import type { PointerTool } from './pointer-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

/** Takes hold of the cloth under the pointer and draws it along, in the plane that faces the eye. */
export class PullTool implements PointerTool {
  readonly #source: ViewportSource;
  readonly #camera: Camera;
  readonly #listGarments: () => readonly GarmentMesh[];
  #drag: { garmentId: RecordId; plane: Plane } | null = null;

  constructor(source: ViewportSource, camera: Camera, listGarments: () => readonly GarmentMesh[]) {
    this.#source = source;
    this.#camera = camera;
    this.#listGarments = listGarments;
  }

  press(ray: Ray): boolean {
    const hit = findFirstGarment(this.#listGarments(), ray);
    if (!hit) return false;
    const facing = this.#camera.getWorldDirection(new Vector3());
    const plane = new Plane().setFromNormalAndCoplanarPoint(facing, new Vector3(...hit.point));
    const { garmentId } = hit.garment;
    this.#drag = { garmentId, plane };
    this.#source.preview.send({ kind: 'grip', garmentId, point: findNearestPoint(hit) });
    this.#source.preview.send({ kind: 'pull', garmentId, position: hit.point });
    return true;
  }

  move(ray: Ray, _event: PointerEvent, isPressed: boolean): void {
    if (!isPressed || !this.#drag) return;
    const at = ray.intersectPlane(this.#drag.plane, new Vector3());
    if (!at) return;
    const { garmentId } = this.#drag;
    this.#source.preview.send({ kind: 'pull', garmentId, position: [at.x, at.y, at.z] });
  }

  release(): void {
    if (!this.#drag) return;
    this.#source.preview.send({ kind: 'pull', garmentId: this.#drag.garmentId, position: null });
    this.#drag = null;
  }

  leave(): void {
    this.release();
  }
}
