import { type Camera, type Ray, Vector3 } from 'three';
import { isInsideOutline, listBorderPoints } from '../../core/mesh/index.ts';
import { findBorderLoop, findEdgeLoop, touchPoints } from '../../core/reach/index.ts';
import type { BrushCursor } from './brush-cursor.ts';
import { type GarmentHit, hitGarment } from './find-garment.ts';
import { findSeenPoints } from './find-seen-points.ts';
import type { GarmentMesh } from './garment-mesh.ts';
import type { OutlineDrawing } from './outline-drawing.ts';
import type { PointerTool } from './pointer-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

/** A click this near (CSS pixels) to a border means the border; if it is not farther than this in space, m. */
const BORDER_PIXELS = 14;
const BORDER_REACH = 0.06;

/** Picks points of the selected garment: by brush, inside an outline, or a whole border or loop of edges at once. */
export class PointsTool implements PointerTool {
  readonly #source: ViewportSource;
  readonly #cursor: BrushCursor;
  readonly #camera: Camera;
  readonly #outline: OutlineDrawing;
  readonly #findGarment: () => GarmentMesh | null;

  constructor(
    source: ViewportSource,
    cursor: BrushCursor,
    camera: Camera,
    outline: OutlineDrawing,
    findGarment: () => GarmentMesh | null,
  ) {
    this.#source = source;
    this.#cursor = cursor;
    this.#camera = camera;
    this.#outline = outline;
    this.#findGarment = findGarment;
  }

  press(ray: Ray, event: PointerEvent): boolean {
    const { reach } = this.#source;
    const hit = this.#hit(ray);
    if (!reach) return false;
    const { tool } = reach.store.state.pick;
    if (tool === 'lasso') {
      this.#outline.begin(event);
      return true;
    }
    if (!hit) return false;
    if (tool === 'brush') this.#brush(hit, ray);
    else reach.pick(this.#findLoop(hit));
    return true;
  }

  move(ray: Ray, event: PointerEvent, isPressed: boolean): void {
    const { reach } = this.#source;
    if (!reach) return;
    const { tool, radius } = reach.store.state.pick;
    if (tool === 'lasso') {
      this.#cursor.hide();
      if (isPressed) this.#outline.extend(event);
      return;
    }
    const hit = this.#hit(ray);
    if (!hit) {
      this.#cursor.hide();
      return;
    }
    this.#cursor.show(hit.point, hit.normal, tool === 'brush' ? radius : 0.012);
    if (isPressed && tool === 'brush') this.#brush(hit, ray);
  }

  release(): void {
    const outline = this.#outline.end();
    if (outline.length >= 6) this.#pickInside(outline);
  }

  leave(): void {
    this.#outline.end();
    this.#cursor.hide();
  }

  #hit(ray: Ray): GarmentHit | null {
    const garment = this.#findGarment();
    return garment && hitGarment(garment, ray);
  }

  #brush(hit: GarmentHit, ray: Ray): void {
    const { reach } = this.#source;
    const { pointPositions, pointNormals, mesh, pointOfVertex } = hit.garment;
    const triangles = mesh.geometry.index!.array;
    const corners = [0, 1, 2].map((k) => pointOfVertex[triangles[3 * hit.triangle + k]!]!);
    const { radius, isThrough } = reach!.store.state.pick;
    const front = reach!.reachMesh?.front;
    const { points } = touchPoints(
      { positions: pointPositions, stride: 3, normals: pointNormals, ...(front && { front }) },
      {
        center: hit.point,
        radius,
        strength: 1,
        falloff: 'flat',
        ...(!isThrough && {
          along: corners as [number, number, number],
          view: ray.direction.toArray(),
          normalAtHit: hit.normal,
        }),
      },
    );
    reach!.pick(points);
  }

  /** The border beside the cursor, or the loop of the nearest edge. */
  #findLoop(hit: GarmentHit): number[] {
    const { mesh, neighbours } = this.#source.reach!.reachMesh!;
    const { pointOfVertex } = hit.garment;
    const triangles = hit.garment.mesh.geometry.index!.array;
    const corners = [0, 1, 2].map((k) => pointOfVertex[triangles[3 * hit.triangle + k]!]!);
    const border = this.#findBorderBeside(hit, listBorderPoints(mesh.table));
    if (border >= 0) return findBorderLoop(mesh.table, border);
    const [a, b] = findNearestEdge(hit, corners);
    return findEdgeLoop(mesh.pointPositions, neighbours, a, b);
  }

  /** Of some points the one drawn nearest to a hit, when it is as near as a hand can point; -1 when none is. */
  #findBorderBeside({ garment, point }: GarmentHit, candidates: readonly number[]): number {
    const [width, height] = this.#outline.size;
    const onScreen = (position: Vector3): [number, number] => {
      const at = position.project(this.#camera);
      return [(at.x * width) / 2, (at.y * height) / 2];
    };
    const hit = new Vector3(...point);
    const [x, y] = onScreen(hit.clone());
    let best = -1;
    let least = BORDER_PIXELS;
    for (const candidate of candidates) {
      const position = new Vector3().fromArray(garment.pointPositions, 3 * candidate);
      // Not the other side, which may lie behind the cursor.
      if (position.distanceTo(hit) > BORDER_REACH) continue;
      const [px, py] = onScreen(position);
      const distance = Math.hypot(px - x, py - y);
      if (distance >= least) continue;
      least = distance;
      best = candidate;
    }
    return best;
  }

  /** @param outline - [n, 2], CSS pixels on the canvas. */
  #pickInside(outline: readonly number[]): void {
    const { reach } = this.#source;
    const garment = this.#findGarment();
    const mesh = reach?.reachMesh?.mesh;
    if (!reach || !garment || !mesh) return;
    const [width, height] = this.#outline.size;
    const eye = this.#camera.getWorldPosition(new Vector3()).toArray() as [number, number, number];
    const isSeen = reach.store.state.pick.isThrough
      ? null
      : findSeenPoints(garment.pointPositions, mesh.faces, eye);
    const inside: number[] = [];
    for (let p = 0; p < garment.pointCount; p++) {
      if (isSeen?.[p] === 0) continue;
      const at = new Vector3().fromArray(garment.pointPositions, 3 * p).project(this.#camera);
      if (isInsideOutline(outline, ((at.x + 1) / 2) * width, ((1 - at.y) / 2) * height)) inside.push(p);
    }
    reach.pick(inside);
  }
}

/** Of the three edges of a hit triangle the one that the hit lies nearest to. */
function findNearestEdge({ garment, point }: GarmentHit, corners: readonly number[]): [number, number] {
  const at = (corner: number): Vector3 => new Vector3().fromArray(garment.pointPositions, 3 * corner);
  const hit = new Vector3(...point);
  let best: [number, number] = [corners[0]!, corners[1]!];
  let least = Number.POSITIVE_INFINITY;
  for (let k = 0; k < 3; k++) {
    const [a, b] = [corners[k]!, corners[(k + 1) % 3]!];
    const displacement = at(b).sub(at(a)).normalize();
    const across = hit.clone().sub(at(a));
    const distance = across.addScaledVector(displacement, -across.dot(displacement)).length();
    if (distance >= least) continue;
    least = distance;
    best = [a, b];
  }
  return best;
}
