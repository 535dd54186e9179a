import type { Channel } from './channel-definition.ts';

export const roundedEdge: Channel = {
  label: 'Rounded edge',
  unit: '%',
  perUnit: 100,
  range: [0, 1],
  defaultValue: 1,
  brushValue: 0,
  leastTop: 1,
  effect: 'From 50 % on the edge between outer side and inside is rounded; below it is square.',
  attribute: '_ROUNDED_EDGE',
  isForMaking: true,
};
