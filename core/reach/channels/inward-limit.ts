import type { Channel } from './channel-definition.ts';

/** An inward limit from here on is none, m: as deep as a body is thick. */
export const NO_INWARD_LIMIT = 0.3;

export const inwardLimit: Channel = {
  label: 'Inward limit',
  unit: 'cm',
  perUnit: 100,
  range: [0, NO_INWARD_LIMIT],
  defaultValue: NO_INWARD_LIMIT,
  brushValue: 0.02,
  leastTop: 0.05,
  effect: 'How deep a vertex may sink below its skinned place; 30 cm is no limit.',
  attribute: '_INWARD_LIMIT',
  none: { from: NO_INWARD_LIMIT, words: 'no limit' },
};
