import {
  Bone,
  BufferAttribute,
  BufferGeometry,
  Matrix4,
  MeshBasicMaterial,
  MeshLambertMaterial,
  Skeleton,
  SkinnedMesh,
} from 'three';
import { weldPoints } from '../../core/mesh/index.ts';
import { applyMorphs, type Section, type Skin } from '../../core/rig/index.ts';
import { refreshNormals } from '../../core/steps/index.ts';
import type { Visibility } from '../state/session.ts';
import { addSecondInfluences } from './body-material.ts';
import { CardOrder } from './card-order.ts';
import { addFitColors, NOT_LOOKED_AT } from './fit-colors.ts';
import { describeMaterial, setSeeThrough } from './lit-mesh.ts';

/** A skeleton whose matrices come from the preview worker: nothing is computed on the page. */
class WorkerSkeleton extends Skeleton {
  override update(): void {}
}

/** A section that only follows its joints, skinned by the GPU from the matrices of the live run. */
export class SkinnedSection {
  readonly mesh: SkinnedMesh;
  readonly #wire: SkinnedMesh;
  readonly #skeleton: WorkerSkeleton;
  readonly material: MeshLambertMaterial;
  readonly section: Section;
  readonly #fitShown: { value: number };
  /** Weights of the morph targets as drawn. */
  #morphWeights: Float32Array;
  /** Of a section that lets what is behind it through; made when it is first drawn. */
  #cards: CardOrder | null = null;

  constructor(section: Section, skin: Skin, sectionIndex: number) {
    this.section = section;
    this.#morphWeights = new Float32Array(section.morphs.length);
    const geometry = createGeometry(section);
    this.material = new MeshLambertMaterial(describeMaterial(section, section.isTwoSided));
    if (section.influences === 8) addSecondInfluences(this.material);
    this.#fitShown = addFitColors(this.material);
    const joints = skin.joints.length;
    this.#skeleton = new WorkerSkeleton(
      Array.from({ length: joints }, () => new Bone()),
      Array.from({ length: joints }, () => new Matrix4()),
    );
    this.mesh = this.#bind(new SkinnedMesh(geometry, this.material));
    this.mesh.userData.sectionIndex = sectionIndex;
    const wireMaterial = new MeshBasicMaterial({
      color: '#23262D',
      wireframe: true,
      transparent: true,
      opacity: 0.28,
    });
    this.#wire = this.#bind(new SkinnedMesh(geometry, wireMaterial));
    this.#wire.renderOrder = 1;
    this.#wire.visible = false;
    this.mesh.add(this.#wire);
  }

  /** @param matrices - [joints, 16] of the section's skin. @param morphWeights - [morphs]. */
  update(matrices: Float32Array, morphWeights: Float32Array): void {
    if (morphWeights.some((weight, m) => weight !== this.#morphWeights[m])) this.#applyMorphs(morphWeights);
    this.#skeleton.boneMatrices!.set(matrices);
    this.#skeleton.boneTexture!.needsUpdate = true;
  }

  /** Draws what is mixed with what is behind it from the farthest piece to the nearest. @param eye - World place. */
  orderCards(eye: readonly [number, number, number]): void {
    if (this.material.userData.isMixed !== true || !this.mesh.visible) return;
    if (!this.#cards) {
      this.#cards = new CardOrder(this.section);
      // The triangles of the section are everybody's: what is put in order is a copy.
      this.mesh.geometry.setIndex(new BufferAttribute(this.section.triangles.slice(), 1));
    }
    const index = this.mesh.geometry.index!;
    const { boneMatrices } = this.#skeleton;
    if (boneMatrices && this.#cards.sort(index.array as Uint32Array, boneMatrices, eye))
      index.needsUpdate = true;
  }

  #applyMorphs(weights: Float32Array): void {
    this.#morphWeights = weights.slice();
    const { position, normal } = this.mesh.geometry.attributes as Record<string, BufferAttribute>;
    const positions = applyMorphs(this.section, weights, position!.array as Float32Array);
    position!.needsUpdate = true;
    // Normals as the file has them where nothing is moved.
    if (weights.every((weight) => weight === 0)) (normal!.array as Float32Array).set(this.section.normals);
    else {
      const { pointOfVertex, pointCount } = weldPoints(this.section.positions);
      (normal!.array as Float32Array).set(refreshNormals(this.section, positions, pointOfVertex, pointCount));
    }
    normal!.needsUpdate = true;
  }

  setView(visibility: Visibility, showTriangles: boolean): void {
    this.mesh.visible = visibility !== 'hidden';
    setSeeThrough(this.material, visibility === 'ghost');
    this.#wire.visible = showTriangles;
  }

  /** Colours the skin by how bodies cover it. @param values - See `toFitValues`, [vertices]; null: as it is. */
  setFit(values: Float32Array | null): void {
    this.#fitShown.value = values ? 1 : 0;
    const { fit } = this.mesh.geometry.attributes as Record<string, BufferAttribute>;
    if (!values || fit!.array.length !== values.length) return;
    (fit!.array as Float32Array).set(values);
    fit!.needsUpdate = true;
  }

  dispose(): void {
    this.mesh.geometry.dispose();
    this.material.dispose();
    (this.#wire.material as MeshBasicMaterial).dispose();
    this.#skeleton.dispose();
  }

  #bind(mesh: SkinnedMesh): SkinnedMesh {
    // The matrices end in world space, so the mesh itself stays at the origin.
    mesh.bind(this.#skeleton, new Matrix4());
    mesh.bindMode = 'detached';
    // Bounds would have to follow the pose; one character is always worth drawing.
    mesh.frustumCulled = false;
    if (!this.#skeleton.boneTexture) this.#skeleton.computeBoneTexture();
    return mesh;
  }
}

function createGeometry(section: Section): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(section.positions.slice(), 3));
  geometry.setAttribute('normal', new BufferAttribute(section.normals.slice(), 3));
  if (section.colors) geometry.setAttribute('color', new BufferAttribute(section.colors, 3));
  if (section.uvs) geometry.setAttribute('uv', new BufferAttribute(section.uvs, 2));
  const { influences } = section;
  const count = section.positions.length / 3;
  geometry.setAttribute('fit', new BufferAttribute(new Float32Array(count).fill(NOT_LOOKED_AT), 1));
  for (let set = 0; set < influences / 4; set++) {
    const indices = new Uint16Array(4 * count);
    const weights = new Float32Array(4 * count);
    for (let v = 0; v < count; v++) {
      const from = influences * v + 4 * set;
      indices.set(section.jointIndices.subarray(from, from + 4), 4 * v);
      weights.set(section.jointWeights.subarray(from, from + 4), 4 * v);
    }
    const suffix = set === 0 ? '' : 'B';
    geometry.setAttribute(`skinIndex${suffix}`, new BufferAttribute(indices, 4));
    geometry.setAttribute(`skinWeight${suffix}`, new BufferAttribute(weights, 4));
  }
  geometry.setIndex(new BufferAttribute(section.triangles, 1));
  return geometry;
}
