import { BufferAttribute, BufferGeometry, DoubleSide, Mesh, MeshBasicMaterial } from 'three';
import type { CheckedMesh } from '../../core/mesh/index.ts';
import type { GarmentMesh } from './garment-mesh.ts';

/** Picked faces, teal over the garment that they belong to. */
export class PickOverlay {
  readonly garment: GarmentMesh;
  readonly #mesh: CheckedMesh;
  readonly #index: BufferAttribute;
  readonly #drawn: Mesh<BufferGeometry, MeshBasicMaterial>;
  readonly #lines: Mesh<BufferGeometry, MeshBasicMaterial>;
  #shown: Uint8Array | null = null;

  constructor(garment: GarmentMesh, mesh: CheckedMesh) {
    this.garment = garment;
    this.#mesh = mesh;
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', garment.mesh.geometry.attributes.position as BufferAttribute);
    this.#index = new BufferAttribute(new Uint32Array(mesh.faces.length), 1);
    geometry.setIndex(this.#index);
    const material = new MeshBasicMaterial({
      color: '#13696A',
      transparent: true,
      opacity: 0.5,
      side: DoubleSide,
      depthWrite: false,
      polygonOffset: true,
      polygonOffsetFactor: -2,
      polygonOffsetUnits: -2,
    });
    this.#drawn = new Mesh(geometry, material);
    this.#drawn.frustumCulled = false;
    this.#drawn.renderOrder = 2;
    // Lines tell picked faces apart on cloth that is teal itself.
    this.#lines = new Mesh(
      geometry,
      new MeshBasicMaterial({ color: '#FCFAF5', wireframe: true, transparent: true, opacity: 0.75 }),
    );
    this.#lines.frustumCulled = false;
    this.#lines.renderOrder = 3;
    garment.mesh.add(this.#drawn, this.#lines);
  }

  show(isPicked: Uint8Array): void {
    if (isPicked === this.#shown) return;
    this.#shown = isPicked;
    const { triangleOfFace, triangles } = this.#mesh;
    const index = this.#index.array as Uint32Array;
    let count = 0;
    isPicked.forEach((one, f) => {
      if (!one) return;
      const t = 3 * triangleOfFace[f]!;
      index.set(triangles.subarray(t, t + 3), 3 * count++);
    });
    this.#index.needsUpdate = true;
    this.#drawn.geometry.setDrawRange(0, 3 * count);
  }

  dispose(): void {
    this.#drawn.removeFromParent();
    this.#lines.removeFromParent();
    this.#lines.material.dispose();
    this.#drawn.geometry.dispose();
    this.#drawn.material.dispose();
  }
}
