import type { Document } from '@gltf-transform/core';
import {
  type AuthoredDocument,
  type GarmentRecord,
  listGarments,
  type RecordId,
} from '../../core/document/index.ts';
import { type LevelMeshes, placeLevels } from '../../core/levels/index.ts';
import { findSection } from '../../core/rig/index.ts';
import type { ShippedLevel } from './cloth-extension.ts';
import { writeMaps } from './write-maps.ts';
import type { WrittenPrimitive } from './write-prepared.ts';

/** Where a primitive is in the file. */
interface PlaceInFile {
  node: number;
  primitive: number;
}

/** A level, with the primitive of its mesh still to be named. */
export interface WrittenLevel extends Omit<ShippedLevel, 'mesh'> {
  /** The section that it is simulated on, with the names of its maps; null: the garment's own. */
  mesh: { section: number; maps: NonNullable<ShippedLevel['mesh']>['maps'] } | null;
}

/**
 * Writes the maps of the meshes of a garment's levels.
 * @param made - With the meshes of all levels of the document. @param primitives - One for each section of it. @param bodies - Of the garment's set, in the order of the file.
 */
export function writeLevels(
  document: Document,
  authored: AuthoredDocument,
  garment: GarmentRecord,
  {
    made,
    primitives,
    bodies,
  }: { made: LevelMeshes; primitives: readonly WrittenPrimitive[]; bodies: readonly RecordId[] },
): WrittenLevel[] {
  return garment.levels.map((level) => {
    const placed = placeLevels(authored, made, new Map([[garment.id, level]]));
    const own = listGarments(placed).find(({ id }) => id === garment.id)!;
    const section = findSection(made.character, own);
    const { withoutBodies, ...settings } = level;
    return {
      ...settings,
      withoutBodies: withoutBodies.map((id) => bodies.indexOf(id)).filter((index) => index >= 0),
      mesh:
        own === garment
          ? null
          : { section, maps: writeMaps(document, made.character, primitives, placed, own) },
    };
  });
}

/** As it is in the file. @param placeOf - Of a section. */
export function nameLevel(
  { mesh, ...level }: WrittenLevel,
  placeOf: (section: number) => PlaceInFile,
): ShippedLevel {
  return { ...level, mesh: mesh && { ...placeOf(mesh.section), maps: mesh.maps } };
}
