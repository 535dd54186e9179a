import type { Section } from '../rig/index.ts';
import { type ChannelKind, limitValue } from './channels/index.ts';
import { compareValues, type SparseChange } from './sparse-change.ts';

/** What of a colour is taken; `grey` is its luma. */
export type ColorPart = 'grey' | 'red' | 'green' | 'blue';

const LUMA = [0.2126, 0.7152, 0.0722] as const;
const PARTS: readonly ColorPart[] = ['red', 'green', 'blue'];

/**
 * The change that the colours of the vertices make to a map: `low` where they are dark, `high` where they are bright.
 * Vertices that share a point count by their mean.
 *
 * @param pointOfVertex - [v]. @throws {RangeError} Without colours, or when `high` is not above `low`.
 */
export function readVertexColors(
  values: Float32Array,
  { colors, name }: Pick<Section, 'colors' | 'name'>,
  pointOfVertex: Uint32Array,
  options: { kind: ChannelKind; part: ColorPart; low: number; high: number; mask?: Uint8Array | null },
): SparseChange {
  const { kind, part, low, high, mask = null } = options;
  if (!colors) throw new RangeError(`"${name}" has no vertex colours.`);
  if (!(high > low)) throw new RangeError(`Bright (${high}) must stand for more than dark (${low}).`);
  const sums = new Float64Array(values.length);
  const counts = new Uint32Array(values.length);
  pointOfVertex.forEach((point, vertex) => {
    const at = (k: number): number => colors[3 * vertex + k]!;
    const level =
      part === 'grey' ? LUMA[0] * at(0) + LUMA[1] * at(1) + LUMA[2] * at(2) : at(PARTS.indexOf(part));
    sums[point] = sums[point]! + level;
    counts[point] = counts[point]! + 1;
  });
  const next = values.map((value, point) => {
    if (counts[point] === 0) return value;
    return limitValue(kind, low + (sums[point]! / counts[point]!) * (high - low));
  });
  return compareValues(values, next, mask);
}
