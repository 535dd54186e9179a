import {
  BufferAttribute,
  BufferGeometry,
  DoubleSide,
  DynamicDrawUsage,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
} from 'three';
import { computeVertexNormals } from '../../core/mesh/index.ts';
import { NO_INWARD_LIMIT } from '../../core/reach/index.ts';

/** More ticks than this hide the cloth. */
const MOST_TICKS = 320;
/** Deeper than this (m) a limit hardly is one, and is not drawn. */
const DEEPEST = 0.6 * NO_INWARD_LIMIT;

/** How deep points may sink: a veil below the skinned surface, with ticks from the one to the other. */
export class InwardVeil {
  readonly group = new Group();
  readonly #faces: Uint32Array;
  readonly #mesh: Mesh<BufferGeometry, MeshBasicMaterial>;
  readonly #ticks: LineSegments<BufferGeometry, LineBasicMaterial>;
  readonly #places: Float32Array;
  readonly #normals: Float32Array;
  #depths: Float32Array | null = null;
  #ticked: number[] = [];

  /** @param faces - Over the points of the garment. */
  constructor(faces: Uint32Array, pointCount: number) {
    this.#faces = faces;
    this.#normals = new Float32Array(3 * pointCount);
    const places = new BufferAttribute(new Float32Array(3 * pointCount), 3).setUsage(DynamicDrawUsage);
    this.#places = places.array as Float32Array;
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', places);
    geometry.setIndex(new BufferAttribute(new Uint32Array(faces.length), 1));
    this.#mesh = new Mesh(
      geometry,
      new MeshBasicMaterial({
        color: '#5A3F78',
        transparent: true,
        opacity: 0.26,
        side: DoubleSide,
        depthWrite: false,
      }),
    );
    const lines = new BufferGeometry();
    lines.setAttribute(
      'position',
      new BufferAttribute(new Float32Array(6 * MOST_TICKS), 3).setUsage(DynamicDrawUsage),
    );
    this.#ticks = new LineSegments(lines, new LineBasicMaterial({ color: '#2C1A3D' }));
    for (const part of [this.#mesh, this.#ticks]) {
      part.frustumCulled = false;
      part.renderOrder = 6;
      // Seen through the cloth that lies over it.
      part.material.depthTest = false;
    }
    this.group.add(this.#mesh, this.#ticks);
    this.group.visible = false;
  }

  /** @param depths - m, [p]; null hides it. */
  show(depths: Float32Array | null): void {
    this.#depths = depths;
    this.group.visible = depths?.some((depth) => depth < DEEPEST) ?? false;
    if (!depths || !this.group.visible) return;
    const index = this.#mesh.geometry.index!;
    const array = index.array as Uint32Array;
    const isLimited = (point: number): boolean => depths[point]! < DEEPEST;
    let count = 0;
    for (let t = 0; t < this.#faces.length; t += 3) {
      const corners = this.#faces.subarray(t, t + 3);
      if (!corners.every(isLimited)) continue;
      array.set(corners, count);
      count += 3;
    }
    index.needsUpdate = true;
    this.#mesh.geometry.setDrawRange(0, count);
    const limited = [...depths.keys()].filter(isLimited);
    const step = Math.max(1, limited.length / MOST_TICKS);
    this.#ticked = Array.from(
      { length: Math.min(limited.length, MOST_TICKS) },
      (_, i) => limited[Math.floor(i * step)]!,
    );
    this.#ticks.geometry.setDrawRange(0, 2 * this.#ticked.length);
  }

  /** @param targets - Skinned places of the points, [p, 4]. */
  update(targets: Float32Array): void {
    const depths = this.#depths;
    if (!depths || !this.group.visible) return;
    computeVertexNormals(targets, this.#faces, this.#normals, 4);
    for (let p = 0; p < depths.length; p++)
      for (let k = 0; k < 3; k++)
        this.#places[3 * p + k] = targets[4 * p + k]! - depths[p]! * this.#normals[3 * p + k]!;
    const lines = this.#ticks.geometry.attributes.position as BufferAttribute;
    this.#ticked.forEach((p, i) => {
      for (let k = 0; k < 3; k++) {
        lines.array[6 * i + k] = targets[4 * p + k]!;
        lines.array[6 * i + 3 + k] = this.#places[3 * p + k]!;
      }
    });
    lines.needsUpdate = true;
    this.#mesh.geometry.attributes.position!.needsUpdate = true;
  }

  dispose(): void {
    this.group.removeFromParent();
    for (const part of [this.#mesh, this.#ticks]) {
      part.geometry.dispose();
      part.material.dispose();
    }
  }
}
