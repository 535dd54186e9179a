import type { Channel } from './channel-definition.ts';

export const thickness: Channel = {
  label: 'Thickness',
  unit: 'mm',
  perUnit: 1000,
  range: [0.0005, 0.1],
  defaultValue: 0.003,
  brushValue: 0.006,
  leastTop: 0.01,
  effect: 'How far behind the outer side an inside is made.',
  attribute: '_THICKNESS',
  isForMaking: true,
};
