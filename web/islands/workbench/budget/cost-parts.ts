import type { RunTimes } from '../../../../core/run/index.ts';

/** What spends the budget, in the order in which it is drawn. */
export const COST_PARTS = [
  { key: 'stretch', label: 'Stretch', color: '#13696A' },
  { key: 'bend', label: 'Bend', color: '#3F8584' },
  { key: 'reach', label: 'Reach, tethers, motion', color: '#8CB5AF' },
  { key: 'bodies', label: 'Collision bodies', color: '#8E86A6' },
  { key: 'self', label: 'Self-collision', color: '#5E5673' },
  { key: 'layers', label: 'Garments beneath', color: '#B9B19D' },
  { key: 'air', label: 'Air', color: '#9CB7C4' },
  { key: 'skinning', label: 'Skinning and binding', color: '#D9BF82' },
] as const satisfies { key: keyof RunTimes; label: string; color: string }[];
