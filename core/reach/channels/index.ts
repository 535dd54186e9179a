import type { Channel } from './channel-definition.ts';
import { damping } from './damping.ts';
import { drag } from './drag.ts';
import { inwardLimit } from './inward-limit.ts';
import { limitRoundness } from './limit-roundness.ts';
import { lining } from './lining.ts';
import { maxDistance } from './max-distance.ts';
import { roundedEdge } from './rounded-edge.ts';
import { stiffness } from './stiffness.ts';
import { thickness } from './thickness.ts';

export type { Channel } from './channel-definition.ts';
export { NO_INWARD_LIMIT } from './inward-limit.ts';
export { LINING_FROM } from './lining.ts';

/** In the order in which they are offered. What is known of one stands in its file. */
const TABLE = {
  maxDistance,
  inwardLimit,
  limitRoundness,
  lining,
  stiffness,
  damping,
  drag,
  thickness,
  roundedEdge,
};

/** What a map may hold vertex by vertex. */
export type ChannelKind = keyof typeof TABLE;

export const CHANNELS: Readonly<Record<ChannelKind, Channel>> = TABLE;

export const CHANNEL_KINDS = Object.keys(CHANNELS) as readonly ChannelKind[];

/** Those that a shipment holds: the others are for preparation. */
export const SHIPPED_KINDS = CHANNEL_KINDS.filter((kind) => !CHANNELS[kind].isForMaking);

/** A value as it is shown, with its unit; or what it means when it is no measure. */
export function formatValue(kind: ChannelKind, value: number): string {
  const { unit, perUnit, none } = CHANNELS[kind];
  if (none && value >= none.from) return none.words;
  const shown = value * perUnit;
  const digits = unit === '×' ? 2 : 1;
  return unit === '×' ? `×${shown.toFixed(digits)}` : `${shown.toFixed(digits)} ${unit}`;
}

/** A value brought into the range of its channel; what is no number is the default. */
export function limitValue(kind: ChannelKind, value: number): number {
  const { range, defaultValue } = CHANNELS[kind];
  return Number.isNaN(value) ? defaultValue : Math.min(range[1], Math.max(range[0], value));
}
