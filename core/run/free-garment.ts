import { applyMorphs, type Character } from '../rig/index.ts';
import { createBodyMesh } from './body-mesh.ts';
import type { GarmentSetup } from './garment-setup.ts';

/** As far as a point may go that is not held, m. */
const FREE = 10;

/**
 * A garment let go of, to fall into place over the whole body: held points stay held, all others go where they fall. When
 * all are held, none is.
 *
 * @param bodySections - Met as they are, beside the garment's own bodies.
 */
export function freeGarment(
  setup: GarmentSetup,
  character: Character,
  bodySections: readonly number[],
): GarmentSetup {
  const isAllHeld = setup.maxDistances.every((distance) => distance === 0);
  return {
    ...setup,
    blend: 1,
    maxDistances: setup.maxDistances.map((distance) => (isAllHeld || distance > 0 ? FREE : 0)),
    bodyMeshes: bodySections
      .filter((index) => !character.sections[index]!.isRigid)
      .map((index) => {
        const section = character.sections[index]!;
        const positions = applyMorphs(
          section,
          section.morphWeights,
          new Float32Array(section.positions.length),
        );
        // As far off as from garments beneath.
        const margin = setup.fabric.layerMargin - setup.fabric.thickness;
        return { id: null, mesh: createBodyMesh({ ...section, positions }), sectionIndex: null, margin };
      }),
  };
}
