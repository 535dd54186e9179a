import type { RunTimes } from '../../../../core/run/index.ts';

/** What spends the budget, in the order in which it is drawn. */
export const COST_PARTS = [
  { key: 'stretch', label: 'Stretch', color: 'light-dark(#13696A, #6CC4BC)' },
  { key: 'bend', label: 'Bend', color: 'light-dark(#3F8584, #4E9A95)' },
  { key: 'reach', label: 'Reach, tethers, motion', color: 'light-dark(#8CB5AF, #A9D6CF)' },
  { key: 'bodies', label: 'Collision bodies', color: 'light-dark(#8E86A6, #A79DC6)' },
  { key: 'self', label: 'Self-collision', color: 'light-dark(#5E5673, #7F76A0)' },
  { key: 'layers', label: 'Garments beneath', color: 'light-dark(#B9B19D, #C9C0A8)' },
  { key: 'air', label: 'Air', color: 'light-dark(#9CB7C4, #8FB0C2)' },
  { key: 'skinning', label: 'Skinning and binding', color: 'light-dark(#D9BF82, #D9BF82)' },
] as const satisfies { key: keyof RunTimes; label: string; color: string }[];
