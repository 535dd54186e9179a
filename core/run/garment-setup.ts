import type { CollisionShape } from '../bodies/index.ts';
import {
  type CompiledGarment,
  compileGarment,
  FABRIC_DEFAULTS,
  type FabricSettings,
} from '../cloth/index.ts';
import {
  type AuthoredDocument,
  findChannel,
  findSection,
  listBodies,
  listGarments,
  type RecordId,
} from '../document/index.ts';
import { createCheckedMesh, findInnerSide } from '../mesh/index.ts';
import type { Character, Section } from '../rig/index.ts';
import type { BodyMesh } from './body-mesh.ts';
import { bindRender, type RenderBinding } from './render-binding.ts';

/** One garment as a run takes it: compiled data with the settings that may change while it runs. */
export interface GarmentSetup {
  id: RecordId;
  name: string;
  compiled: CompiledGarment;
  fabric: FabricSettings;
  /** Metres, [n]. */
  maxDistances: Float32Array;
  /** How deep points may sink and the roundness behind them, see `ClothSolver.setInwardLimits`. [n] each. */
  inward?: { depths: Float32Array; roundness: Float32Array };
  /** Non-zero: the point rides on the outer shell. [n] */
  lining?: Uint8Array;
  bodies: readonly CollisionShape[];
  bodyMeshes?: readonly BodyMesh[];
  /** Bit mask of the collision groups whose bodies it meets; without it the first. */
  groups?: number;
  /** Share of the simulation in what is shown and measured. */
  blend: number;
  /** Sections drawn in place of the simulated one; without any it is drawn itself. */
  renders?: readonly RenderBinding[];
}

/** Points of the inner side, counted as channels are. */
function findLining({ positions, triangles, uvs }: Section): Uint8Array {
  return findInnerSide(createCheckedMesh({ positions, triangles, uvs }));
}

/** Garments compiled before, to be used again. */
export type CompiledCache = Map<string, CompiledGarment>;

/**
 * Compiles all garments of a document, from the skin outward.
 * @param compiled - Garments compiled before; used again, and added to.
 */
export function setUpGarments(
  character: Character,
  document: AuthoredDocument,
  compiled: CompiledCache = new Map(),
): GarmentSetup[] {
  return listGarments(document)
    .filter((garment) => findSection(character, garment) >= 0)
    .map((garment) => {
      const { warpTurn } = garment;
      const sectionIndex = findSection(character, garment);
      const key = `${sectionIndex}:${warpTurn}`;
      let data = compiled.get(key);
      if (!data) {
        data = compileGarment(character, sectionIndex, { warpTurn });
        compiled.set(key, data);
      }
      const channel = findChannel(document, garment.id);
      const values = channel ? document.arrays.get(channel.id) : undefined;
      const fabric = document.records.get(garment.fabricId);
      return {
        id: garment.id,
        name: garment.name,
        compiled: data,
        fabric: fabric?.type === 'fabric' ? fabric.settings : FABRIC_DEFAULTS,
        maxDistances: values?.length === data.pointCount ? values : new Float32Array(data.pointCount),
        bodies: listBodies(document, garment.bodySetId).map((body) => body.shape),
        blend: garment.blend,
        ...(garment.lining === 'inside' && { lining: findLining(character.sections[sectionIndex]!) }),
        renders: garment.renders
          .map((render) => findSection(character, render))
          .filter((index) => index >= 0)
          .map((index) => bindRender(character, data, index)),
      };
    });
}
