import type { ShapeDefinition } from './shape-definition.ts';

/** A ball around end `a`. */
export const sphere: ShapeDefinition = {
  label: 'Sphere',
  ends: { a: 'Middle' },
  radii: { radiusA: 'Radius' },
  toRound: ({ a, radiusA }) => ({ a, b: a, radiusA, radiusB: radiusA }),
  toImplicit: ({ radiusA }) => ({ type: 'sphere', sphere: { radius: radiusA } }),
};
