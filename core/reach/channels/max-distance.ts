import type { Channel } from './channel-definition.ts';

export const maxDistance: Channel = {
  label: 'Max distance',
  unit: 'cm',
  perUnit: 100,
  range: [0, Number.POSITIVE_INFINITY],
  defaultValue: 0,
  brushValue: 0.2,
  leastTop: 0.05,
  effect: 'How far a vertex may leave its skinned place; 0 holds it there.',
  attribute: '_MAX_DISTANCE',
};
