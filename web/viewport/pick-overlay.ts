import { BufferAttribute, BufferGeometry, DoubleSide, Mesh, MeshBasicMaterial } from 'three';
import type { BoundMesh } from './bound-mesh.ts';

/** Picked faces, teal over the section that they belong to. */
export class PickOverlay {
  readonly bound: BoundMesh;
  readonly #index: BufferAttribute;
  readonly #drawn: Mesh<BufferGeometry, MeshBasicMaterial>;
  readonly #lines: Mesh<BufferGeometry, MeshBasicMaterial>;
  #shown: Uint8Array | null = null;

  constructor(bound: BoundMesh) {
    this.bound = bound;
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', bound.mesh.geometry.attributes.position as BufferAttribute);
    this.#index = new BufferAttribute(new Uint32Array(bound.bound.mesh.faces.length), 1);
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
    bound.mesh.add(this.#drawn, this.#lines);
  }

  show(isPicked: Uint8Array): void {
    if (isPicked === this.#shown) return;
    this.#shown = isPicked;
    const { faces } = this.bound.bound.mesh;
    const index = this.#index.array as Uint32Array;
    let count = 0;
    isPicked.forEach((one, f) => {
      if (one) index.set(faces.subarray(3 * f, 3 * f + 3), 3 * count++);
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
