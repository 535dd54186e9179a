import type { Channel } from './channel-definition.ts';

export const limitRoundness: Channel = {
  label: 'Limit roundness',
  unit: 'cm',
  perUnit: 100,
  range: [0.01, 10],
  defaultValue: 1,
  brushValue: 0.2,
  leastTop: 1,
  effect: 'Radius of the sphere that stands for the body behind the inward limit.',
  attribute: '_LIMIT_ROUNDNESS',
};
