import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  DynamicDrawUsage,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshLambertMaterial,
} from 'three';
import type { RecordId } from '../../core/document/index.ts';
import { buildEdgeTable } from '../../core/mesh/index.ts';
import type { Section } from '../../core/rig/index.ts';
import type { Visibility } from '../state/session.ts';
import type { RenderLayout } from '../workers/preview-protocol.ts';

/** A section that follows a garment's sim mesh: its vertices come from the live run. */
export class RenderMesh {
  readonly mesh: Mesh<BufferGeometry, MeshLambertMaterial>;
  readonly garmentId: RecordId;
  readonly sectionIndex: number;
  readonly section: Section;
  #layout: RenderLayout;
  readonly #wire: LineSegments<BufferGeometry, LineBasicMaterial>;

  constructor(section: Section, garmentId: RecordId, layout: RenderLayout) {
    this.section = section;
    this.garmentId = garmentId;
    this.sectionIndex = layout.sectionIndex;
    this.#layout = layout;
    const geometry = new BufferGeometry();
    for (const name of ['position', 'normal']) {
      const attribute = new BufferAttribute(new Float32Array(3 * layout.vertexCount), 3);
      geometry.setAttribute(name, attribute.setUsage(DynamicDrawUsage));
    }
    if (section.colors) geometry.setAttribute('color', new BufferAttribute(section.colors, 3));
    geometry.setIndex(new BufferAttribute(section.triangles, 1));
    const color = new Color().setRGB(section.baseColor[0], section.baseColor[1], section.baseColor[2]);
    const material = new MeshLambertMaterial({
      color,
      vertexColors: section.colors !== null,
      side: DoubleSide,
    });
    this.mesh = new Mesh(geometry, material);
    this.mesh.frustumCulled = false;
    const wire = new BufferGeometry();
    wire.setAttribute('position', geometry.attributes.position!);
    wire.setIndex(new BufferAttribute(buildEdgeTable(section.triangles, layout.vertexCount).edges, 1));
    this.#wire = new LineSegments(
      wire,
      new LineBasicMaterial({ color: '#23262D', transparent: true, opacity: 0.3 }),
    );
    this.#wire.frustumCulled = false;
    this.#wire.visible = false;
    this.mesh.add(this.#wire);
  }

  /** Whether it shows a section that follows a garment: then only its places in the frame may be others. */
  fits(section: Section, garmentId: RecordId): boolean {
    return this.section === section && this.garmentId === garmentId;
  }

  /** Finds its numbers elsewhere in the frames from now on. */
  takeLayout(layout: RenderLayout): void {
    this.#layout = layout;
  }

  /** Takes over a frame. @param floats - Of the whole frame. */
  update(floats: Float32Array): void {
    const { positions, normals, vertexCount } = this.#layout;
    const { position, normal } = this.mesh.geometry.attributes as Record<string, BufferAttribute>;
    (position!.array as Float32Array).set(floats.subarray(positions, positions + 3 * vertexCount));
    (normal!.array as Float32Array).set(floats.subarray(normals, normals + 3 * vertexCount));
    position!.needsUpdate = true;
    normal!.needsUpdate = true;
  }

  setView(visibility: Visibility, showTriangles: boolean): void {
    const { material } = this.mesh;
    this.mesh.visible = visibility !== 'hidden';
    const isGhost = visibility === 'ghost';
    if (material.transparent !== isGhost) {
      material.transparent = isGhost;
      material.opacity = isGhost ? 0.25 : 1;
      material.depthWrite = !isGhost;
      material.needsUpdate = true;
    }
    this.#wire.visible = showTriangles;
  }

  dispose(): void {
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
    this.#wire.geometry.dispose();
    this.#wire.material.dispose();
  }
}
