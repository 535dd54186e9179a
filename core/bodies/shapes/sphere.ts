import { defineRound } from './round-shape.ts';

/** A ball around end `a`. */
export const sphere = defineRound({
  label: 'Sphere',
  ends: { a: 'Middle' },
  radii: { radiusA: 'Radius' },
  toRound: ({ a, radiusA }) => ({ a, b: a, radiusA, radiusB: radiusA }),
  toImplicit: ({ radiusA }) => ({ type: 'sphere', sphere: { radius: radiusA } }),
});
