import { Ray, Vector3 } from 'three';
import { measureOnTriangle } from '../../core/mesh/index.ts';
import {
  type BrushMode,
  type BrushPosition,
  brushPoints,
  CHANNELS,
  joinTouched,
  type TouchedPoints,
  touchPoints,
} from '../../core/reach/index.ts';
import type { CursorReading } from '../state/cursor-reading.ts';
import type { PaintedMap } from '../state/reach-work.ts';
import type { BrushCursor } from './brush-cursor.ts';
import { findNearestPoint, type GarmentHit, hitGarment } from './find-garment.ts';
import type { GarmentMesh } from './garment-mesh.ts';
import type { PointerTool } from './pointer-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

/** Dabs are laid this share of the radius apart. */
const SPACING = 0.3;
/** A fast stroke is filled with this many dabs between two places of the pointer at most. */
const MOST_FILLED = 16;
/** As near as this to where it goes (in the shown unit) a value is there. */
const SNAP = 0.05;

const VERBS: Readonly<Record<BrushMode, string>> = {
  value: 'Paint',
  raise: 'Raise or lower',
  multiply: 'Multiply',
  evenOut: 'Even out',
  contrast: 'Add contrast to',
  clear: 'Clear',
};

/** Paints the chosen map of the selected garment. One drag is one step to take back. */
export class PaintTool implements PointerTool {
  readonly #source: ViewportSource;
  readonly #cursor: BrushCursor;
  readonly #findGarment: () => GarmentMesh | null;
  readonly #onReading: (reading: CursorReading | null) => void;
  #last: { position: [number, number, number]; ray: Ray } | null = null;
  #hover: GarmentHit | null = null;
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
    this.#hover = hit;
    if (isPressed && this.#isPainting) this.#stroke(ray, hit);
    if (!hit) {
      this.#cursor.hide();
      this.#onReading(null);
      return;
    }
    this.#cursor.show(hit.point, hit.normal, this.#source.session.state.brush.radius);
    this.#read(hit, event);
  }

  release(): void {
    if (this.#isPainting) this.#source.editor.endStroke();
    this.#isPainting = false;
    this.#last = null;
  }

  leave(): void {
    this.release();
    this.#hover = null;
    this.#cursor.hide();
    this.#onReading(null);
  }

  /** The brush takes the value under the cursor. @returns It, or null beside the garment. */
  pickValue(): number | null {
    const painted = this.#source.reach?.painted;
    if (!this.#hover || !painted) return null;
    const value = painted.values[findNearestPoint(this.#hover)]!;
    const { session } = this.#source;
    const { brush } = session.state;
    session.set({ brush: { ...brush, values: { ...brush.values, [painted.kind]: value } } });
    return value;
  }

  /** Shows the cursor at the brush's present size. */
  followBrush(): void {
    const hover = this.#hover;
    if (hover) this.#cursor.show(hover.point, hover.normal, this.#source.session.state.brush.radius);
  }

  #hit(ray: Ray): GarmentHit | null {
    const garment = this.#findGarment();
    return garment && hitGarment(garment, ray);
  }

  /** Dabs from the last place of the pointer to this one, so that a fast stroke has no gaps. */
  #stroke(ray: Ray, hit: GarmentHit | null): void {
    const { brush } = this.#source.session.state;
    const last = this.#last;
    const displacement = last && hit ? measureDisplacement(hit.point, last.position) : 0;
    const count = Math.min(MOST_FILLED, Math.floor(displacement / (SPACING * brush.radius)));
    for (let k = 1; last && k < count; k++) {
      const between = mixRays(last.ray, ray, k / count);
      const filled = this.#hit(between);
      if (filled) this.#dab(filled, between);
    }
    if (hit) this.#dab(hit, ray);
  }

  #dab(hit: GarmentHit, ray: Ray): void {
    const { editor, session, reach } = this.#source;
    const { brush, channel } = session.state;
    if (this.#last && measureDisplacement(hit.point, this.#last.position) < SPACING * brush.radius) return;
    const painted = reach?.ensure(channel);
    if (!painted) return;
    this.#last = { position: hit.point, ray: ray.clone() };
    const { label, range, defaultValue, perUnit } = CHANNELS[channel];
    const mode = reach!.store.state.isSmoothing ? 'evenOut' : brush.mode;
    const change = brushPoints(painted.values, painted.reachMesh.neighbours, this.#touch(hit, ray, painted), {
      mode,
      value: mode === 'multiply' ? brush.factor : brush.values[channel],
      defaultValue,
      range,
      snap: SNAP / perUnit,
      mask: reach!.mask,
    });
    editor.paint(`${VERBS[mode]} ${label.toLowerCase()}`, painted.map.id, change);
  }

  /** Points under the brush, and under its mirror image on the other side. */
  #touch(hit: GarmentHit, ray: Ray, { reachMesh }: PaintedMap): TouchedPoints {
    const { brush } = this.#source.session.state;
    const garment = hit.garment;
    const surface = {
      positions: garment.pointPositions,
      stride: 3,
      normals: garment.pointNormals,
      front: reachMesh.front,
    };
    const { radius, strength, falloff } = brush;
    const size = { radius, strength, falloff };
    const corners = listCorners(garment, hit.triangle);
    const view = ray.direction.toArray();
    const touched = touchPoints(surface, {
      ...size,
      center: hit.point,
      ...(brush.visibleSide && { view, normalAtHit: hit.normal }),
      ...(brush.followsSurface && { along: corners }),
    });
    const mirrored = brush.mirrors ? this.#placeMirrored(hit, corners, reachMesh) : null;
    if (!mirrored) return touched;
    const { along, normalAtHit, ...position } = mirrored;
    const other = touchPoints(surface, {
      ...size,
      ...position,
      // The other side is not seen: what faces as it does counts.
      ...(brush.visibleSide && { normalAtHit, view: normalAtHit!.map((value) => -value) as Triple }),
      ...(brush.followsSurface && { along }),
    });
    return joinTouched(touched, other);
  }

  #placeMirrored(
    hit: GarmentHit,
    corners: Triple,
    { mirror }: PaintedMap['reachMesh'],
  ): Pick<BrushPosition, 'center' | 'along' | 'normalAtHit'> | null {
    const { pointPositions, pointNormals } = hit.garment;
    const { weights } = measureOnTriangle(pointPositions, 3, corners, hit.point);
    const position = mirror.find({ corners, shares: weights as Triple });
    if (!position) return null;
    const mix = (rows: Float32Array): Triple =>
      [0, 1, 2].map((axis) =>
        position.corners.reduce((sum, corner, c) => sum + position.shares[c]! * rows[3 * corner + axis]!, 0),
      ) as Triple;
    const normal = new Vector3(...mix(pointNormals)).normalize().toArray() as Triple;
    return { center: mix(pointPositions), along: position.corners, normalAtHit: normal };
  }

  #read(hit: GarmentHit, event: PointerEvent): void {
    const { reach, session } = this.#source;
    const point = findNearestPoint(hit);
    const value = reach?.painted?.values[point] ?? CHANNELS[session.state.channel].defaultValue;
    this.#onReading({ x: event.offsetX, y: event.offsetY, value, point });
  }
}

type Triple = [number, number, number];

function listCorners(garment: GarmentMesh, triangle: number): Triple {
  const triangles = garment.mesh.geometry.index!.array;
  return [0, 1, 2].map((k) => garment.pointOfVertex[triangles[3 * triangle + k]!]!) as Triple;
}

function measureDisplacement(p: Triple, q: Triple): number {
  return Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
}

function mixRays(from: Ray, to: Ray, share: number): Ray {
  return new Ray(to.origin.clone(), from.direction.clone().lerp(to.direction, share).normalize());
}
