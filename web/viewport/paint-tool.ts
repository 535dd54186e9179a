import type { Ray } from 'three';
import { findChannel } from '../../core/document/index.ts';
import { castRay, type MeshRayHit } from '../../core/mesh/index.ts';
import { computeDab } from '../../core/reach/index.ts';
import type { Workbench } from '../state/workbench.ts';
import type { BrushCursor } from './brush-cursor.ts';
import type { GarmentMesh } from './garment-mesh.ts';
import type { PointerTool } from './pointer-tool.ts';

/** What the brush is over, for the reading beside the cursor. */
export interface CursorReading {
  x: number;
  y: number;
  /** Metres. */
  value: number;
  point: number;
}

/** Dabs are laid this share of the radius apart. */
const SPACING = 0.3;

/** Paints the max distance of the selected garment. One drag is one step to take back. */
export class PaintTool implements PointerTool {
  readonly #workbench: Workbench;
  readonly #cursor: BrushCursor;
  readonly #findGarment: () => GarmentMesh | null;
  readonly #onReading: (reading: CursorReading | null) => void;
  #last: [number, number, number] | null = null;
  #isPainting = false;

  constructor(
    workbench: Workbench,
    cursor: BrushCursor,
    findGarment: () => GarmentMesh | null,
    onReading: (reading: CursorReading | null) => void,
  ) {
    this.#workbench = workbench;
    this.#cursor = cursor;
    this.#findGarment = findGarment;
    this.#onReading = onReading;
  }

  press(ray: Ray): boolean {
    const hit = this.#hit(ray);
    if (!hit) return false;
    this.#isPainting = true;
    this.#last = null;
    this.#workbench.editor.beginStroke();
    this.#dab(hit, ray);
    return true;
  }

  move(ray: Ray, event: PointerEvent, isPressed: boolean): void {
    const hit = this.#hit(ray);
    if (!hit) {
      this.#cursor.hide();
      this.#onReading(null);
      return;
    }
    this.#cursor.show(hit.point, hit.normal, this.#workbench.session.state.brush.radius);
    this.#read(hit, event);
    if (isPressed && this.#isPainting) this.#dab(hit, ray);
  }

  release(): void {
    if (this.#isPainting) this.#workbench.editor.endStroke();
    this.#isPainting = false;
    this.#last = null;
  }

  leave(): void {
    this.release();
    this.#cursor.hide();
    this.#onReading(null);
  }

  #hit(ray: Ray): MeshRayHit | null {
    const garment = this.#findGarment();
    if (!garment?.mesh.visible) return null;
    const { position } = garment.mesh.geometry.attributes;
    const { x, y, z } = ray.direction;
    return castRay(
      position!.array as Float32Array,
      garment.mesh.geometry.index!.array as Uint32Array,
      [ray.origin.x, ray.origin.y, ray.origin.z],
      [x, y, z],
    );
  }

  #dab(hit: MeshRayHit, ray: Ray): void {
    const { editor, session } = this.#workbench;
    const { brush } = session.state;
    const garment = this.#findGarment()!;
    const channel = findChannel(editor.document, garment.garmentId);
    const values = channel && editor.document.arrays.get(channel.id);
    if (!channel || !values) return;
    if (this.#last && Math.hypot(...hit.point.map((v, k) => v - this.#last![k]!)) < SPACING * brush.radius)
      return;
    this.#last = hit.point;
    const change = computeDab(
      values,
      {
        positions: garment.pointPositions,
        stride: 3,
        normals: garment.pointNormals,
        neighbours: garment.neighbours,
      },
      {
        center: hit.point,
        radius: brush.radius,
        strength: brush.strength,
        falloff: brush.falloff,
        mode: brush.mode,
        value: brush.value,
        ...(brush.visibleSide
          ? { view: [ray.direction.x, ray.direction.y, ray.direction.z] as const, normalAtHit: hit.normal }
          : {}),
      },
    );
    editor.paint('Paint max distance', channel.id, change);
  }

  #read(hit: MeshRayHit, event: PointerEvent): void {
    const { editor } = this.#workbench;
    const garment = this.#findGarment()!;
    const channel = findChannel(editor.document, garment.garmentId);
    const values = channel && editor.document.arrays.get(channel.id);
    if (!values) return;
    const triangles = garment.mesh.geometry.index!.array;
    let nearest = 0;
    let nearestDistance = Number.POSITIVE_INFINITY;
    for (let k = 0; k < 3; k++) {
      const point = garment.pointOfVertex[triangles[3 * hit.triangle + k]!]!;
      const d = Math.hypot(...hit.point.map((v, axis) => v - garment.pointPositions[3 * point + axis]!));
      if (d < nearestDistance) {
        nearestDistance = d;
        nearest = point;
      }
    }
    this.#onReading({ x: event.offsetX, y: event.offsetY, value: values[nearest]!, point: nearest });
  }
}
