import type { BodyShape } from '../bodies/index.ts';
import {
  type CompiledGarment,
  compileGarment,
  type FabricSettings,
  STARTER_FABRICS,
} from '../cloth/index.ts';
import {
  type AuthoredDocument,
  findChannel,
  listBodies,
  listGarments,
  type RecordId,
} from '../document/index.ts';
import type { Character } from '../rig/index.ts';

/** One garment as a run takes it: compiled data with the settings that may change while it runs. */
export interface GarmentSetup {
  id: RecordId;
  name: string;
  compiled: CompiledGarment;
  fabric: FabricSettings;
  /** Metres, [n]. */
  maxDistances: Float32Array;
  bodies: BodyShape[];
}

/**
 * Compiles all garments of a document, from the skin outward.
 * @param compiled - Garments compiled before, by section; used again, and added to.
 */
export function setUpGarments(
  character: Character,
  document: AuthoredDocument,
  compiled: Map<number, CompiledGarment> = new Map(),
): GarmentSetup[] {
  return listGarments(document)
    .filter((garment) => garment.sectionIndex < character.sections.length)
    .map((garment) => {
      let data = compiled.get(garment.sectionIndex);
      if (!data) {
        data = compileGarment(character, garment.sectionIndex);
        compiled.set(garment.sectionIndex, data);
      }
      const channel = findChannel(document, garment.id);
      const values = channel ? document.arrays.get(channel.id) : undefined;
      const fabric = document.records.get(garment.fabricId);
      return {
        id: garment.id,
        name: garment.name,
        compiled: data,
        fabric: fabric?.type === 'fabric' ? fabric.settings : STARTER_FABRICS[0]!.settings,
        maxDistances: values?.length === data.pointCount ? values : new Float32Array(data.pointCount),
        bodies: listBodies(document, garment.bodySetId).map((body) => body.shape),
      };
    });
}
