import { type Pricing, REFERENCE_PRICING } from '../cost/index.ts';
import { type AuthoredDocument, listGarments, placeBodies, type RecordId } from '../document/index.ts';
import { GarmentCache, listMetMeshes, type RunSetup } from '../run/index.ts';
import { type Demand, measureDemands } from '../suggest/index.ts';

/** What a set comes to on a clip, see `Demand`. */
export type SetOnClip = Omit<Demand, 'weights'>;

export interface SetsRequest {
  /** Set whose garments are asked about. */
  usedSetId: RecordId;
  /** Sets whose bodies they meet, in turn. */
  triedSetIds: readonly RecordId[];
  clip: number;
}

/**
 * Plays a clip with the garments of one set over the bodies of several, side by side, and measures what shows through, cloth inside and
 * cost. Yields the share done.
 *
 * @returns In the order of the sets that are tried.
 */
export function* compareSets(
  document: AuthoredDocument,
  setup: RunSetup,
  { usedSetId, triedSetIds, clip }: SetsRequest,
  pricing: Pricing = REFERENCE_PRICING,
): Generator<number, SetOnClip[]> {
  const wearers = new Map(
    listGarments(document)
      .filter(({ bodySetId }) => bodySetId === usedSetId)
      .map((garment) => [garment.id, garment]),
  );
  const cache = new GarmentCache();
  const shape = { base: setup.base, shaped: setup.character };
  const dress = (bodySetId: RecordId): RunSetup => ({
    ...setup,
    garments: setup.garments.map((garment) => {
      const wearer = wearers.get(garment.id);
      if (!wearer) return garment;
      const dressed = { ...wearer, bodySetId };
      return {
        ...garment,
        bodies: placeBodies(document, dressed, shape),
        bodyMeshes: listMetMeshes(document, dressed, setup.character, cache),
      };
    }),
  });
  const found = yield* measureDemands(triedSetIds.map(dress), clip, [...wearers.keys()], pricing);
  return found.map(({ weights: _weights, ...rest }) => rest);
}
