import { type AuthoredDocument, listGarments, placeBodies, type RecordId } from '../document/index.ts';
import type { RunSetup } from '../run/index.ts';
import { type Demand, measureDemand } from '../suggest/index.ts';

/** What a set comes to on a clip, see `Demand`. */
export type SetOnClip = Omit<Demand, 'weights'>;

/**
 * Plays a clip with the garments of one set over the bodies of another, or of the same, and measures what shows through, cloth inside and cost.
 * Yields the share done.
 *
 * @param usedSetId - Set whose garments are asked about. @param triedSetId - Set whose bodies they meet.
 */
export function* measureSetOnClip(
  document: AuthoredDocument,
  setup: RunSetup,
  { usedSetId, triedSetId, clip }: { usedSetId: RecordId; triedSetId: RecordId; clip: number },
  clock: () => number,
): Generator<number, SetOnClip> {
  const wearers = new Map(
    listGarments(document)
      .filter(({ bodySetId }) => bodySetId === usedSetId)
      .map((garment) => [garment.id, garment]),
  );
  const garments = setup.garments.map((garment) => {
    const wearer = wearers.get(garment.id);
    if (!wearer) return garment;
    const { bodyGroups } = wearer;
    const bodies = placeBodies(
      document,
      { bodySetId: triedSetId, bodyGroups },
      { base: setup.base, shaped: setup.character },
    );
    return { ...garment, bodies };
  });
  const { weights: _weights, ...found } = yield* measureDemand(
    { ...setup, garments },
    clip,
    [...wearers.keys()],
    clock,
  );
  return found;
}
