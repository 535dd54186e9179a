import type { Channel } from './channel-definition.ts';

/** A factor of some of the fabric's settings. */
export function createScale(own: Pick<Channel, 'label' | 'effect' | 'attribute'>): Channel {
  return {
    ...own,
    unit: '×',
    perUnit: 1,
    range: [0, 20],
    defaultValue: 1,
    brushValue: 2,
    leastTop: 2,
    isScale: true,
  };
}
