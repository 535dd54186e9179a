import type { PointScales } from '../cloth/index.ts';
import { type AuthoredDocument, findChannel, type GarmentRecord } from '../document/index.ts';
import { createCheckedMesh, findInnerSide } from '../mesh/index.ts';
import { CHANNEL_KINDS, CHANNELS, type ChannelKind, LINING_FROM, NO_INWARD_LIMIT } from '../reach/index.ts';
import type { Section } from '../rig/index.ts';

/** What the maps of a garment say, as a solver takes it. [n] each, one for each welded vertex. */
export interface GarmentReach {
  /** Metres. */
  maxDistances: Float32Array;
  /** Metres, see `ClothSolver.setInwardLimits`; null without a map of inward limits. */
  inward: { depths: Float32Array; roundness: Float32Array | null } | null;
  /** Non-zero: the point rides on the outer side; null: none does. */
  lining: Uint8Array | null;
  /** Null where there is no map. */
  scales: PointScales;
}

/**
 * Reads the maps in use. A painted lining counts before the one that is found by itself; maps of another length than
 * the mesh (it is being prepared) count as absent.
 *
 * @param kinds - Channels that are asked for; a lining that is not is left null, as it may take long to find.
 */
export function readReach(
  document: AuthoredDocument,
  garment: GarmentRecord,
  section: Section,
  pointCount: number,
  kinds: ReadonlySet<ChannelKind> = new Set(CHANNEL_KINDS),
): GarmentReach {
  const read = (kind: ChannelKind): Float32Array | null => {
    const map = findChannel(document, garment.id, kind);
    const values = map ? document.arrays.get(map.id) : undefined;
    return values?.length === pointCount ? values : null;
  };
  const depths = read('inwardLimit');
  return {
    maxDistances: read('maxDistance') ?? new Float32Array(pointCount).fill(CHANNELS.maxDistance.defaultValue),
    inward: depths && {
      depths: depths.map((depth) => (depth >= NO_INWARD_LIMIT ? -1 : depth)),
      roundness: read('limitRoundness'),
    },
    lining: kinds.has('lining') ? readLining(read('lining'), garment, section) : null,
    scales: readScales(read),
  };
}

function readScales(read: (kind: ChannelKind) => Float32Array | null): PointScales {
  const kinds = CHANNEL_KINDS.filter((kind): kind is keyof PointScales => CHANNELS[kind].isScale === true);
  return Object.fromEntries(kinds.map((kind) => [kind, read(kind)])) as unknown as PointScales;
}

function readLining(
  painted: Float32Array | null,
  garment: GarmentRecord,
  section: Section,
): Uint8Array | null {
  if (painted) return Uint8Array.from(painted, (value) => (value >= LINING_FROM ? 1 : 0));
  return garment.lining === 'inside' ? findLining(section) : null;
}

/** Points of the inner side, one for each welded vertex. */
export function findLining({ positions, triangles, uvs }: Section): Uint8Array {
  return findInnerSide(createCheckedMesh({ positions, triangles, uvs }));
}
