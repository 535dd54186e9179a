import {
  type AuthoredDocument,
  type ChannelRecord,
  type GarmentRecord,
  listGarments,
  listMaps,
  type RecordId,
} from '../document/index.ts';
import { coarsenGarment, readSimSettings, SurfaceCache } from '../prepare/index.ts';
import type { Character } from '../rig/index.ts';
import type { LevelChoice } from '../run/index.ts';
import type { LevelBand } from './level-bands.ts';

/** A garment on the mesh of a level, with its maps as they were carried over. */
interface LevelMesh {
  garment: GarmentRecord;
  maps: readonly (readonly [ChannelRecord, Float32Array])[];
}

/** A character with the sim meshes of its garments' levels behind its own sections. */
export interface LevelMeshes {
  character: Character;
  /** By garment and edge length, see `keyOf`. */
  meshes: ReadonlyMap<string, LevelMesh>;
  /** What could not be made, in words. */
  faults: readonly string[];
}

/**
 * Makes the meshes that levels are simulated on, each with all maps of its garment carried over; nothing that is given is changed.
 * A level whose mesh cannot be made stays on the garment's own, and that is said.
 *
 * @param character - Prepared. @param bands - Whose levels are needed. @param cache - Of meshes that were made before.
 */
export function makeLevelMeshes(
  character: Character,
  document: AuthoredDocument,
  bands: readonly Pick<LevelBand, 'levels'>[],
  cache = new SurfaceCache(),
): LevelMeshes {
  const meshes = new Map<string, LevelMesh>();
  const faults: string[] = [];
  let made = character;
  for (const garment of listGarments(document)) {
    const edges = bands.flatMap(({ levels }) => levels.get(garment.id)?.edgeLength ?? []);
    for (const edgeLength of new Set(edges)) {
      const settings = readSimSettings(document, garment, edgeLength);
      try {
        const coarse = coarsenGarment(made, document, garment, settings, cache);
        made = coarse.character;
        meshes.set(keyOf(garment.id, edgeLength), {
          garment: coarse.document.records.get(garment.id) as GarmentRecord,
          maps: listMaps(coarse.document, garment.id).flatMap((map) => {
            const values = coarse.document.arrays.get(map.id);
            return values ? [[map, values] as const] : [];
          }),
        });
      } catch (error) {
        if (!(error instanceof RangeError)) throw error;
        faults.push(`${garment.name}, edges of ${(100 * edgeLength).toFixed(1)} cm: ${error.message}`);
      }
    }
  }
  return { character: made, meshes, faults };
}

/** A document in which the garments that are at a level stand on its mesh, for the character that has it; nothing that is given is changed. */
export function placeLevels(
  document: AuthoredDocument,
  { meshes }: Pick<LevelMeshes, 'meshes'>,
  levels: LevelChoice,
): AuthoredDocument {
  const records = new Map(document.records);
  const arrays = new Map(document.arrays);
  for (const [id, { edgeLength }] of levels) {
    const mesh = edgeLength === null ? undefined : meshes.get(keyOf(id, edgeLength));
    if (!mesh) continue;
    records.set(id, mesh.garment);
    for (const [map, values] of mesh.maps) {
      records.set(map.id, map);
      arrays.set(map.id, values);
    }
  }
  return { ...document, records, arrays };
}

/** A garment's mesh among those of all levels. @param edgeLength - m. */
export function keyOf(garmentId: RecordId, edgeLength: number): string {
  return `${garmentId} ${edgeLength}`;
}
