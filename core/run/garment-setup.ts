import type { CollisionShape } from '../bodies/index.ts';
import { type CompiledGarment, FABRIC_DEFAULTS, type FabricSettings } from '../cloth/index.ts';
import {
  type AuthoredDocument,
  fabricAtLevel,
  type GarmentLevel,
  type GarmentRecord,
  type LevelRate,
  listGarments,
  placeBodies,
  placeBodyMeshes,
  type RecordId,
} from '../document/index.ts';
import { type Character, findSection } from '../rig/index.ts';
import type { MetMesh } from './body-mesh.ts';
import { GarmentCache } from './garment-cache.ts';
import { type GarmentReach, readReach } from './garment-reach.ts';
import type { RenderBinding } from './render-binding.ts';

/** One garment as a run takes it: compiled data with the settings that may change while it runs. */
export interface GarmentSetup extends Partial<Omit<GarmentReach, 'maxDistances'>> {
  /** Metres, [n]. */
  maxDistances: Float32Array;
  id: RecordId;
  name: string;
  compiled: CompiledGarment;
  fabric: FabricSettings;
  bodies: readonly CollisionShape[];
  bodyMeshes?: readonly MetMesh[];
  /** Bit mask of the collision groups whose bodies it meets; without it the first. */
  groups?: number;
  /** Garments that it never comes near, see `areClear`. Default: none. */
  clearOf?: readonly RecordId[];
  /** Share of the simulation in what is shown and measured. */
  blend: number;
  /** Default: in every frame. */
  rate?: LevelRate;
  /** Sections drawn in place of the simulated one; without any it is drawn itself. */
  renders?: readonly RenderBinding[];
}

/** Garments that are at a level of detail, by id: all but the edge length of its mesh, which the document is to have. */
export type LevelChoice = ReadonlyMap<RecordId, GarmentLevel>;

export interface SetUpGarmentsOptions {
  /** What was compiled before; used again, added to, and trimmed to what this document needs. */
  cache?: GarmentCache | undefined;
  /** The character without its body shape, as bodies were made for it. */
  base?: Character;
  /** Default: all as they are. */
  levels?: LevelChoice | undefined;
}

/** Compiles all garments of a document, from the skin outward. */
export function setUpGarments(
  character: Character,
  document: AuthoredDocument,
  { cache = new GarmentCache(), base = character, levels }: SetUpGarmentsOptions = {},
): GarmentSetup[] {
  const setups = listGarments(document)
    .filter((garment) => findSection(character, garment) >= 0)
    .map((garment) => {
      const { warpTurn } = garment;
      const sectionIndex = findSection(character, garment);
      const data = cache.compile(character, sectionIndex, warpTurn);
      const fabric = document.records.get(garment.fabricId);
      const level = levels?.get(garment.id) ?? null;
      const settings = fabric?.type === 'fabric' ? fabric.settings : FABRIC_DEFAULTS;
      return {
        id: garment.id,
        name: garment.name,
        compiled: data,
        fabric: fabricAtLevel(settings, level),
        ...readReach(document, garment, character.sections[sectionIndex]!, data.pointCount),
        bodies: placeBodies(document, garment, { base, shaped: character }, level),
        bodyMeshes: listMetMeshes(document, garment, character, cache),
        clearOf: garment.clearOf,
        blend: garment.blend * (level?.blend ?? 1),
        rate: level?.rate ?? 'everyFrame',
        renders: garment.renders
          .map((render) => findSection(character, render))
          .filter((index) => index >= 0)
          .map((index) => cache.bind(character, data, warpTurn, index)),
      };
    });
  cache.trim();
  return setups;
}

/** The meshes that a garment meets. */
export function listMetMeshes(
  document: AuthoredDocument,
  garment: GarmentRecord,
  character: Character,
  cache: GarmentCache,
): MetMesh[] {
  return placeBodyMeshes(document, garment, character).map(({ record, sectionIndex }) => ({
    id: record.id,
    mesh: cache.makeBodyMesh(character, sectionIndex),
    sectionIndex,
    margin: record.margin,
  }));
}
