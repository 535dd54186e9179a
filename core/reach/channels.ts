/** What a map may hold point by point. */
export type ChannelKind =
  | 'maxDistance'
  | 'inwardLimit'
  | 'limitRoundness'
  | 'lining'
  | 'stiffness'
  | 'damping'
  | 'drag';

export interface Channel {
  label: string;
  /** Unit that values are shown in, and how many of it one unit of the value makes (values are SI, or plain factors). */
  unit: 'cm' | '%' | '×';
  perUnit: number;
  /** No value leaves it. */
  range: readonly [low: number, high: number];
  /** What a point has without a map, and what erasing goes back to. */
  defaultValue: number;
  /** What a brush begins with. */
  brushValue: number;
  /** The legend's lowest top: an empty map is shown against it. */
  leastTop: number;
  /** In one sentence, what a higher value does. */
  effect: string;
}

/** An inward limit from here on is none, m: as deep as a body is thick. */
export const NO_INWARD_LIMIT = 0.3;
/** A lining value from here on makes a point ride on the outer side. */
export const LINING_FROM = 0.5;

/** A factor of one of the fabric's settings. */
function createScale(label: string, effect: string): Channel {
  return {
    label,
    unit: '×',
    perUnit: 1,
    range: [0, 20],
    defaultValue: 1,
    brushValue: 2,
    leastTop: 2,
    effect,
  };
}

/** All channels, in the order in which they are offered. */
export const CHANNELS: Readonly<Record<ChannelKind, Channel>> = {
  maxDistance: {
    label: 'Max distance',
    unit: 'cm',
    perUnit: 100,
    range: [0, Number.POSITIVE_INFINITY],
    defaultValue: 0,
    brushValue: 0.2,
    leastTop: 0.05,
    effect: 'How far a point may leave its skinned place; 0 holds it there.',
  },
  inwardLimit: {
    label: 'Inward limit',
    unit: 'cm',
    perUnit: 100,
    range: [0, NO_INWARD_LIMIT],
    defaultValue: NO_INWARD_LIMIT,
    brushValue: 0.02,
    leastTop: 0.05,
    effect: 'How deep a point may sink below its skinned place; 30 cm is no limit.',
  },
  limitRoundness: {
    label: 'Limit roundness',
    unit: 'cm',
    perUnit: 100,
    range: [0.01, 10],
    defaultValue: 1,
    brushValue: 0.2,
    leastTop: 1,
    effect: 'Radius of the sphere that stands for the body behind the inward limit.',
  },
  lining: {
    label: 'Lining',
    unit: '%',
    perUnit: 100,
    range: [0, 1],
    defaultValue: 0,
    brushValue: 1,
    leastTop: 1,
    effect: 'From 50 % on a point rides on the outer side instead of being simulated.',
  },
  stiffness: createScale('Stiffness scale', "Times the fabric's stretch, shear and bend stiffness."),
  damping: createScale('Damping scale', "Times the fabric's dampings."),
  drag: createScale('Drag scale', 'Times how strongly moving air takes hold.'),
};

export const CHANNEL_KINDS = Object.keys(CHANNELS) as readonly ChannelKind[];

/** A value as it is shown, with its unit; or what it means when it is no measure. */
export function formatValue(kind: ChannelKind, value: number): string {
  const { unit, perUnit } = CHANNELS[kind];
  if (kind === 'inwardLimit' && value >= NO_INWARD_LIMIT) return 'no limit';
  const shown = value * perUnit;
  const digits = unit === '×' ? 2 : 1;
  return unit === '×' ? `×${shown.toFixed(digits)}` : `${shown.toFixed(digits)} ${unit}`;
}

/** A value brought into the range of its channel; what is no number is the default. */
export function limitValue(kind: ChannelKind, value: number): number {
  const { range, defaultValue } = CHANNELS[kind];
  return Number.isNaN(value) ? defaultValue : Math.min(range[1], Math.max(range[0], value));
}
