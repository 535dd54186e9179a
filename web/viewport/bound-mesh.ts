import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  type LineBasicMaterial,
  type LineSegments,
  Mesh,
  MeshLambertMaterial,
  type Ray,
} from 'three';
import { castRay, computeVertexNormals, type MeshRayHit } from '../../core/mesh/index.ts';
import { skinPoints } from '../../core/rig/index.ts';
import type { BoundSection } from '../state/bound-section.ts';
import { createMoving, createWire, disposeDrawn } from './lit-mesh.ts';

/** The section that is worked on by hand, skinned here point by point and drawn in the place of the simulated one. */
export class BoundMesh {
  readonly mesh: Mesh<BufferGeometry, MeshLambertMaterial>;
  readonly bound: BoundSection;
  /** Places and normals of the points as drawn now, [points, 3]. */
  readonly pointPositions: Float32Array;
  readonly pointNormals: Float32Array;
  readonly #wire: LineSegments<BufferGeometry, LineBasicMaterial>;
  readonly #own: Float32Array;

  constructor(bound: BoundSection) {
    this.bound = bound;
    const { mesh, section } = bound;
    this.pointPositions = mesh.pointPositions.slice();
    this.pointNormals = new Float32Array(mesh.pointPositions.length);
    this.#own = readColors(bound);
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', createMoving(this.pointPositions));
    geometry.setAttribute('normal', createMoving(this.pointNormals));
    geometry.setAttribute('color', createMoving(this.#own.slice()));
    geometry.setIndex(new BufferAttribute(mesh.faces, 1));
    this.mesh = new Mesh(geometry, new MeshLambertMaterial({ vertexColors: true, side: DoubleSide }));
    this.mesh.name = section.name;
    this.mesh.frustumCulled = false;
    this.#wire = createWire(geometry, mesh.table.edges);
    this.#wire.visible = true;
    this.mesh.add(this.#wire);
  }

  /** Follows a pose. @param matrices - Of the section's skin, [joints, 16]. */
  update(matrices: Float32Array): void {
    skinPoints(this.bound, matrices, this.pointPositions);
    computeVertexNormals(this.pointPositions, this.bound.mesh.faces, this.pointNormals);
    const { position, normal } = this.mesh.geometry.attributes as Record<string, BufferAttribute>;
    position!.needsUpdate = true;
    normal!.needsUpdate = true;
  }

  /** @param colors - Linear RGB of the points, [points, 3]; null: as the section is. */
  setColors(colors: Float32Array | null): void {
    const attribute = this.mesh.geometry.attributes.color as BufferAttribute;
    (attribute.array as Float32Array).set(colors ?? this.#own);
    attribute.needsUpdate = true;
  }

  setTriangles(isShown: boolean): void {
    this.#wire.visible = isShown;
  }

  /** Where a ray meets the mesh as drawn; `triangle` counts its faces. */
  hit({ origin, direction }: Ray): MeshRayHit | null {
    return castRay(
      this.pointPositions,
      this.bound.mesh.faces,
      [origin.x, origin.y, origin.z],
      [direction.x, direction.y, direction.z],
    );
  }

  /** The corner of a hit face that is nearest to the hit. */
  findNearestPoint({ triangle, point }: MeshRayHit): number {
    const corners = this.bound.mesh.faces.subarray(3 * triangle, 3 * triangle + 3);
    const distanceTo = (corner: number): number =>
      Math.hypot(...point.map((value, k) => value - this.pointPositions[3 * corner + k]!));
    return corners.reduce((best, corner) => (distanceTo(corner) < distanceTo(best) ? corner : best));
  }

  dispose(): void {
    this.mesh.removeFromParent();
    disposeDrawn(this.mesh, this.#wire);
  }
}

function readColors({ section, mesh }: BoundSection): Float32Array {
  const base = new Color().setRGB(section.baseColor[0], section.baseColor[1], section.baseColor[2]);
  const colors = new Float32Array(3 * mesh.pointCount);
  mesh.vertexOfPoint.forEach((vertex, p) => {
    [base.r, base.g, base.b].forEach((value, k) => {
      colors[3 * p + k] = value * (section.colors ? section.colors[3 * vertex + k]! : 1);
    });
  });
  return colors;
}
