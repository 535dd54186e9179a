import { CHANNELS, type ChannelKind } from '../../core/reach/index.ts';
import { UsageError } from '../usage-error.ts';

/**
 * `--range HIGH` or `--range LOW..HIGH` in the channel's unit (cm, %, or a plain factor).
 * @returns In metres, shares or factors.
 */
export function readRange(text: string, kind: ChannelKind): { low: number; high: number } {
  const { perUnit, unit } = CHANNELS[kind];
  const parts = text.split('..');
  const numbers = parts.map((part) => (part.trim() === '' ? Number.NaN : Number(part)));
  const [low, high] = numbers.length === 1 ? [0, numbers[0]!] : [numbers[0]!, numbers[1]!];
  if (parts.length > 2 || !(high > low) || !Number.isFinite(low) || !Number.isFinite(high)) {
    const inUnit = unit === '×' ? 'as factors' : `in ${unit}`;
    throw new UsageError(`--range is HIGH or LOW..HIGH ${inUnit}, low below high; it is "${text}".`);
  }
  return { low: low / perUnit, high: high / perUnit };
}
