import { CHANNELS, fitTop } from '../../core/reach/index.ts';
import type { ReachWork } from './reach-work.ts';

/** How the map that is looked at is coloured. */
export interface Legend {
  /** Value at its upper end: metres, shares or factors. Of a difference both ends, less and more. */
  top: number;
  /** Values with a line. */
  contours: readonly number[];
}

/** Contour lines without a wish of their own. */
const USUAL_CONTOURS = 4;

/** @param values - Of the map that is looked at; null without one. */
export function describeLegend(
  { store, comparison, channel }: ReachWork,
  values: Float32Array | null,
): Legend {
  const { top, contours } = store.state;
  const fitted = comparison
    ? fitTop(channel, comparison.map(Math.abs))
    : fitTop(channel, values ?? undefined);
  const shownTop = comparison ? fitted : (top ?? fitted);
  const usual = Array.from({ length: USUAL_CONTOURS }, (_, k) => ((k + 1) * shownTop) / (USUAL_CONTOURS + 1));
  return { top: shownTop, contours: contours.length > 0 ? contours : usual };
}

/** A value with its channel's digits and without its unit, for scales and lists. */
export function writeValue(channel: ReachWork['channel'], value: number): string {
  return String(Number((value * CHANNELS[channel].perUnit).toFixed(2)));
}
