import type { Ray } from 'three';
import { findChannel } from '../../core/document/index.ts';
import { computeDab } from '../../core/reach/index.ts';
import type { BrushCursor } from './brush-cursor.ts';
import { findNearestPoint, type GarmentHit, hitGarment } from './find-garment.ts';
import type { GarmentMesh } from './garment-mesh.ts';
import type { PointerTool } from './pointer-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

/** What the brush is over, for the reading beside the cursor. */
export interface CursorReading {
  x: number;
  y: number;
  /** Metres, or the weight of a joint. */
  value: number;
  point: number;
  /** Name, when the value is a weight. */
  joint?: string;
}

/** Dabs are laid this share of the radius apart. */
const SPACING = 0.3;

/** Paints the max distance of the selected garment. One drag is one step to take back. */
export class PaintTool implements PointerTool {
  readonly #source: ViewportSource;
  readonly #cursor: BrushCursor;
  readonly #findGarment: () => GarmentMesh | null;
  readonly #onReading: (reading: CursorReading | null) => void;
  #last: [number, number, number] | null = null;
  #isPainting = false;

  constructor(
    source: ViewportSource,
    cursor: BrushCursor,
    findGarment: () => GarmentMesh | null,
    onReading: (reading: CursorReading | null) => void,
  ) {
    this.#source = source;
    this.#cursor = cursor;
    this.#findGarment = findGarment;
    this.#onReading = onReading;
  }

  press(ray: Ray): boolean {
    const hit = this.#hit(ray);
    if (!hit) return false;
    this.#isPainting = true;
    this.#last = null;
    this.#source.editor.beginStroke();
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
    this.#cursor.show(hit.point, hit.normal, this.#source.session.state.brush.radius);
    this.#read(hit, event);
    if (isPressed && this.#isPainting) this.#dab(hit, ray);
  }

  release(): void {
    if (this.#isPainting) this.#source.editor.endStroke();
    this.#isPainting = false;
    this.#last = null;
  }

  leave(): void {
    this.release();
    this.#cursor.hide();
    this.#onReading(null);
  }

  #hit(ray: Ray): GarmentHit | null {
    const garment = this.#findGarment();
    return garment && hitGarment(garment, ray);
  }

  #dab(hit: GarmentHit, ray: Ray): void {
    const { editor, session } = this.#source;
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

  #read(hit: GarmentHit, event: PointerEvent): void {
    const { editor } = this.#source;
    const garment = this.#findGarment()!;
    const channel = findChannel(editor.document, garment.garmentId);
    const values = channel && editor.document.arrays.get(channel.id);
    if (!values) return;
    const nearest = findNearestPoint(hit);
    this.#onReading({ x: event.offsetX, y: event.offsetY, value: values[nearest]!, point: nearest });
  }
}
