import type { MeasureKey } from '../document/index.ts';

/** Limits are for a character that fills about a screen, px. */
const LIMIT_PIXELS = 1000;

/** Of which power of a length a measure is, where distance makes it smaller on the screen. */
const POWERS: Partial<Record<MeasureKey, 1 | 2>> = {
  showThrough: 2,
  penetration: 1,
  penetrationArea: 2,
  layers: 1,
  jitter: 1,
};

/**
 * A limit for a character that is less high on the screen: as many pixels as it allows near by, at 1,000 px. Shares stay what they are.
 * @param limit - In the measure's own unit. @param below - Upper end of a band, px; Infinity: near.
 */
export function limitAtSize(key: MeasureKey, limit: number, below: number): number {
  return limit * Math.max(1, LIMIT_PIXELS / below) ** (POWERS[key] ?? 0);
}
