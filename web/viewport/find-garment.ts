import type { Ray } from 'three';
import type { WeldedIndex } from '../../core/mesh/index.ts';
import { castRay, type MeshRayHit } from '../../core/mesh/index.ts';
import type { GarmentMesh } from './garment-mesh.ts';

export interface GarmentHit extends MeshRayHit {
  garment: GarmentMesh;
}

/** Where a ray meets a garment as it is drawn now, or null. */
export function hitGarment(garment: GarmentMesh, ray: Ray): GarmentHit | null {
  if (!garment.mesh.visible) return null;
  const { position } = garment.mesh.geometry.attributes;
  const hit = castRay(
    position!.array as Float32Array,
    garment.mesh.geometry.index!.array as Uint32Array,
    [ray.origin.x, ray.origin.y, ray.origin.z],
    [ray.direction.x, ray.direction.y, ray.direction.z],
  );
  return hit && { ...hit, garment };
}

/** The first of several garments that a ray meets, or null. */
export function findFirstGarment(garments: readonly GarmentMesh[], ray: Ray): GarmentHit | null {
  let first: GarmentHit | null = null;
  let nearest = Number.POSITIVE_INFINITY;
  for (const garment of garments) {
    const hit = hitGarment(garment, ray);
    if (!hit) continue;
    const { x, y, z } = ray.origin;
    const distance = Math.hypot(hit.point[0] - x, hit.point[1] - y, hit.point[2] - z);
    if (distance >= nearest) continue;
    nearest = distance;
    first = hit;
  }
  return first;
}

/** The welded vertex of a hit triangle that is nearest to the hit. */
export function findNearestPoint({ garment, triangle, point }: GarmentHit): WeldedIndex {
  const triangles = garment.mesh.geometry.index!.array;
  const corners = [0, 1, 2].map((k) => garment.pointOfVertex[triangles[3 * triangle + k]!]! as WeldedIndex);
  const distanceTo = (corner: number): number =>
    Math.hypot(...point.map((value, axis) => value - garment.pointPositions[3 * corner + axis]!));
  return corners.reduce((best, corner) => (distanceTo(corner) < distanceTo(best) ? corner : best));
}
