import {
  type BufferGeometry,
  type LineBasicMaterial,
  type LineSegments,
  Mesh,
  MeshLambertMaterial,
} from 'three';
import type { RecordId } from '../../core/document/index.ts';
import { buildEdgeTable } from '../../core/mesh/index.ts';
import type { Section } from '../../core/rig/index.ts';
import type { Visibility } from '../state/session.ts';
import type { RenderLayout } from '../workers/preview-protocol.ts';
import {
  createMovingGeometry,
  createWire,
  describeMaterial,
  disposeDrawn,
  setSeeThrough,
  takeVertices,
} from './lit-mesh.ts';

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
    const geometry = createMovingGeometry(section);
    this.mesh = new Mesh(geometry, new MeshLambertMaterial(describeMaterial(section)));
    this.mesh.frustumCulled = false;
    this.#wire = createWire(geometry, buildEdgeTable(section.triangles, layout.vertexCount).edges);
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
    takeVertices(this.mesh.geometry, floats, this.#layout);
  }

  setView(visibility: Visibility, showTriangles: boolean): void {
    this.mesh.visible = visibility !== 'hidden';
    setSeeThrough(this.mesh.material, visibility === 'ghost');
    this.#wire.visible = showTriangles;
  }

  dispose(): void {
    disposeDrawn(this.mesh, this.#wire);
  }
}
