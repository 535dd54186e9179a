import { type Camera, Plane, type Ray, Vector3 } from 'three';
import { getShapeDefinition, isRoundBody } from '../../core/bodies/index.ts';
import type { BodyRecord } from '../../core/document/index.ts';
import type { BodiesView } from './bodies-view.ts';
import type { PointerTool } from './pointer-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

/** Selects bodies and drags their ends and radii, in the plane that faces the eye. */
export class BodyTool implements PointerTool {
  readonly #source: ViewportSource;
  readonly #bodies: BodiesView;
  readonly #camera: Camera;
  #drag: { id: string; body: BodyRecord; plane: Plane; offset: Vector3 } | null = null;

  constructor(source: ViewportSource, bodies: BodiesView, camera: Camera) {
    this.#source = source;
    this.#bodies = bodies;
    this.#camera = camera;
  }

  press(ray: Ray, event: PointerEvent): boolean {
    const handle = this.#bodies.findHandle(ray);
    const { selected } = this.#bodies;
    if (handle && selected) {
      const facing = this.#camera.getWorldDirection(new Vector3());
      const plane = new Plane().setFromNormalAndCoplanarPoint(facing, handle.position);
      const at = ray.intersectPlane(plane, new Vector3()) ?? handle.position;
      this.#drag = { id: handle.id, body: selected, plane, offset: handle.position.clone().sub(at) };
      this.#source.editor.beginStroke();
      return true;
    }
    const body = this.#bodies.findBody(ray);
    if (body) {
      const { bodyIds } = this.#source.session.state;
      const others = bodyIds.filter((id) => id !== body);
      this.#source.session.set({ bodyIds: event.shiftKey ? [...others, body] : [body] });
    }
    return false;
  }

  /** Along the body's own axis with Shift; onto the joint under the pointer with Control. */
  move(ray: Ray, event: PointerEvent, isPressed: boolean): void {
    const body = this.#bodies.selected;
    if (!isPressed || !this.#drag || !body) return;
    const at = ray.intersectPlane(this.#drag.plane, new Vector3());
    if (!at) return;
    // From the shape as it was: what turns it would go on and on from what it turned.
    const { id, body: taken, offset } = this.#drag;
    const joint = event.ctrlKey ? this.#bodies.findJoint(ray) : null;
    const to = (joint ?? at.add(offset)).applyMatrix4(this.#bodies.getJointMatrix(taken).invert());
    if (event.shiftKey) keepOnAxis(taken, id, to);
    const shape = getShapeDefinition(taken.shape).moveHandle(taken.shape, id, [to.x, to.y, to.z]);
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

/** Moves a place to the line through a handle along the body's axis; of a body without one it stays. */
function keepOnAxis({ shape }: BodyRecord, id: string, to: Vector3): void {
  if (!isRoundBody(shape) || shape.kind === 'sphere') return;
  const handle = getShapeDefinition(shape)
    .listHandles(shape)
    .find((each) => each.id === id);
  const axis = new Vector3(...shape.b).sub(new Vector3(...shape.a));
  if (handle?.does !== 'move' || axis.lengthSq() === 0) return;
  const from = new Vector3(...handle.position);
  to.sub(from).projectOnVector(axis).add(from);
}
