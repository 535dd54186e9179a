import type { GarmentLevel, GarmentRecord, RecordId } from '../document/index.ts';
import type { LevelChoice } from '../run/index.ts';

/** Sizes on the screen at which every garment of a character is at one and the same level. */
export interface LevelBand {
  /** The character is less than so many pixels high; Infinity of the nearest. */
  below: number;
  /** And at least so many; 0 of the farthest. */
  from: number;
  /** Garments that are at a level of detail; all others are as they are. */
  levels: LevelChoice;
}

/** Bands of a character, from near to far: at least one, in which all garments are as they are unless a level has no bound. */
export function listBands(garments: readonly Pick<GarmentRecord, 'id' | 'levels'>[]): LevelBand[] {
  const bounds = [...new Set(garments.flatMap(({ levels }) => levels.map(({ pixels }) => pixels)))];
  const below = [Number.POSITIVE_INFINITY, ...bounds.sort((p, q) => q - p)];
  return below.map((pixels, b) => ({
    below: pixels,
    from: below[b + 1] ?? 0,
    levels: chooseLevels(garments, pixels),
  }));
}

/** Where a character of a size on the screen is among its bands, as they are listed. */
export function findBand(bands: readonly Pick<LevelBand, 'from'>[], pixels: number): number {
  const found = bands.findIndex(({ from }) => pixels >= from);
  return found < 0 ? bands.length - 1 : found;
}

/** A size must be past the bound of a band by this share of it before the character goes over: at the bound it does not go to and fro. */
const HYSTERESIS = 0.05;

/** Where a character goes that is at a band, when it has a size on the screen. @param band - Negative: at none yet. */
export function chooseBand(
  bands: readonly Pick<LevelBand, 'from' | 'below'>[],
  band: number,
  pixels: number,
): number {
  const now = bands[band];
  const stays =
    now !== undefined && pixels >= now.from * (1 - HYSTERESIS) && pixels < now.below * (1 + HYSTERESIS);
  return stays ? band : findBand(bands, pixels);
}

/** Of each garment the level with the least bound that is not below some size. @param pixels - Upper end of a band. */
function chooseLevels(
  garments: readonly Pick<GarmentRecord, 'id' | 'levels'>[],
  pixels: number,
): LevelChoice {
  const chosen = new Map<RecordId, GarmentLevel>();
  for (const { id, levels } of garments) {
    const [least] = levels.filter((level) => level.pixels >= pixels).sort((p, q) => p.pixels - q.pixels);
    if (least) chosen.set(id, least);
  }
  return chosen;
}
