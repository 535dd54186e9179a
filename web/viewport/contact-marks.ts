import {
  BufferAttribute,
  BufferGeometry,
  DynamicDrawUsage,
  Group,
  LineBasicMaterial,
  LineSegments,
  Points,
  PointsMaterial,
} from 'three';
import { CONTACT, MOST_CONTACTS } from '../workers/preview-protocol.ts';

const INK = '#23262D';
/** How far a tick stands out of the cloth, m, on a figure of the usual size, and the size of its foot in picture elements. */
const TICK = 0.011;
const FOOT = 3.5;
/** Over the cloth, as far, so that it does not hide them. */
const LIFT = 0.0015;

/** A short ink tick on the cloth wherever it lies on a body. */
export class ContactMarks {
  readonly group = new Group();
  /** Size of the figure over the usual one. */
  scale = 1;
  readonly #places = createMovingRows(2 * MOST_CONTACTS);
  readonly #feet = createMovingRows(MOST_CONTACTS);
  readonly #ticks: LineSegments<BufferGeometry, LineBasicMaterial>;
  readonly #points: Points<BufferGeometry, PointsMaterial>;

  constructor() {
    this.#ticks = new LineSegments(toGeometry(this.#places), new LineBasicMaterial({ color: INK }));
    this.#points = new Points(
      toGeometry(this.#feet),
      new PointsMaterial({ color: INK, size: FOOT, sizeAttenuation: false }),
    );
    for (const part of [this.#ticks, this.#points]) {
      // They go wherever the cloth goes.
      part.frustumCulled = false;
      part.renderOrder = 4;
      this.group.add(part);
    }
  }

  /**
   * @param rows - Of a frame: how many contacts there are, and their rows.
   * @param isShown - Whether contacts with the body of a number are marked.
   * @returns Numbers of the bodies that are touched.
   */
  update(rows: Float32Array, isShown: (body: number) => boolean): Set<number> {
    const touched = new Set<number>();
    const places = this.#places.array as Float32Array;
    const feet = this.#feet.array as Float32Array;
    let shown = 0;
    for (let i = 0; i < rows[0]!; i++) {
      const o = 1 + CONTACT.length * i;
      const body = rows[o + CONTACT.body]!;
      if (!isShown(body)) continue;
      touched.add(body);
      for (let k = 0; k < 3; k++) {
        const place = rows[o + CONTACT.position + k]!;
        const normal = rows[o + CONTACT.normal + k]!;
        feet[3 * shown + k] = place + LIFT * this.scale * normal;
        places[6 * shown + k] = place;
        places[6 * shown + 3 + k] = place + TICK * this.scale * normal;
      }
      shown++;
    }
    this.#places.needsUpdate = true;
    this.#feet.needsUpdate = true;
    this.#ticks.geometry.setDrawRange(0, 2 * shown);
    this.#points.geometry.setDrawRange(0, shown);
    return touched;
  }

  dispose(): void {
    for (const part of [this.#ticks, this.#points]) {
      part.geometry.dispose();
      part.material.dispose();
    }
  }
}

function createMovingRows(count: number): BufferAttribute {
  return new BufferAttribute(new Float32Array(3 * count), 3).setUsage(DynamicDrawUsage);
}

function toGeometry(positions: BufferAttribute): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', positions);
  geometry.setDrawRange(0, 0);
  return geometry;
}
