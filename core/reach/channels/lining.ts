import type { Channel } from './channel-definition.ts';

/** A lining value from here on makes a vertex ride on the outer side. */
export const LINING_FROM = 0.5;

export const lining: Channel = {
  label: 'Lining',
  unit: '%',
  perUnit: 100,
  range: [0, 1],
  defaultValue: 0,
  brushValue: 1,
  leastTop: 1,
  effect: 'From 50 % on a vertex rides on the outer side instead of being simulated.',
  attribute: '_LINING',
};
