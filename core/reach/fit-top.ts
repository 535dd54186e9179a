import { CHANNELS, type ChannelKind } from './channels/index.ts';

/** Round tops within a power of ten. */
const ROUND = [1, 1.5, 2, 3, 4, 5, 6, 8, 10];

/** The least round value that no value of a map lies above: the top of its legend, and white of its image. */
export function fitTop(kind: ChannelKind, values: Float32Array | undefined): number {
  const { leastTop, perUnit, none } = CHANNELS[kind];
  let most = 0;
  for (const value of values ?? []) {
    // No limit is not a depth.
    const counts = !none || value < none.from;
    if (counts && value > most) most = value;
  }
  if (most <= leastTop) return leastTop;
  // Half a millionth for the rounding of 32-bit values.
  const shown = most * perUnit * (1 - 5e-7);
  const power = 10 ** Math.floor(Math.log10(shown));
  const round = ROUND.find((step) => step * power >= shown)!;
  return (round * power) / perUnit;
}
