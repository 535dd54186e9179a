import { type Camera, Plane, type Ray, Vector3 } from 'three';
import type { BodyShape } from '../../core/bodies/index.ts';
import type { BodyRecord } from '../../core/document/index.ts';
import type { BodiesView, HandleKind } from './bodies-view.ts';
import type { PointerTool } from './pointer-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

const LEAST_RADIUS = 0.002;

/** Selects bodies and drags their ends and radii, in the plane that faces the eye. */
export class BodyTool implements PointerTool {
  readonly #source: ViewportSource;
  readonly #bodies: BodiesView;
  readonly #camera: Camera;
  #drag: { kind: HandleKind; plane: Plane; offset: Vector3 } | null = null;

  constructor(source: ViewportSource, bodies: BodiesView, camera: Camera) {
    this.#source = source;
    this.#bodies = bodies;
    this.#camera = camera;
  }

  press(ray: Ray): boolean {
    const handle = this.#bodies.findHandle(ray);
    if (handle) {
      const facing = this.#camera.getWorldDirection(new Vector3());
      const plane = new Plane().setFromNormalAndCoplanarPoint(facing, handle.position);
      const at = ray.intersectPlane(plane, new Vector3()) ?? handle.position;
      this.#drag = { kind: handle.kind, plane, offset: handle.position.clone().sub(at) };
      this.#source.editor.beginStroke();
      return true;
    }
    const body = this.#bodies.findBody(ray);
    if (body) this.#source.session.set({ bodyId: body });
    return false;
  }

  move(ray: Ray, _event: PointerEvent, isPressed: boolean): void {
    const body = this.#bodies.selected;
    if (!isPressed || !this.#drag || !body) return;
    const at = ray.intersectPlane(this.#drag.plane, new Vector3());
    if (!at) return;
    const shape = moveHandle(body, this.#drag.kind, at.add(this.#drag.offset), this.#bodies);
    this.#source.editor.updateRecord('Move body', body, { shape });
  }

  release(): void {
    if (this.#drag) this.#source.editor.endStroke();
    this.#drag = null;
  }

  leave(): void {
    this.release();
  }
}

function moveHandle(body: BodyRecord, kind: HandleKind, position: Vector3, bodies: BodiesView): BodyShape {
  const joint = bodies.getJointMatrix(body);
  const { shape } = body;
  if (kind === 'a' || kind === 'b') {
    const local = position.applyMatrix4(joint.invert());
    return { ...shape, [kind]: [local.x, local.y, local.z] };
  }
  const end = kind === 'radiusA' ? shape.a : shape.b;
  const scale = new Vector3().setFromMatrixScale(joint).x;
  const radius = Math.max(LEAST_RADIUS, position.distanceTo(new Vector3(...end).applyMatrix4(joint)) / scale);
  return { ...shape, [kind]: radius };
}
