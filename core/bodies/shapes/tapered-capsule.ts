import { defineRound, measureLength } from './round-shape.ts';

/** The convex hull of two balls. */
export const taperedCapsule = defineRound({
  label: 'Tapered',
  ends: { a: 'Start', b: 'End' },
  radii: { radiusA: 'Radius, start', radiusB: 'Radius, end' },
  toRound: ({ a, b, radiusA, radiusB }) => ({ a, b, radiusA, radiusB }),
  toImplicit: (shape) => ({
    type: 'capsule',
    capsule: { height: measureLength(shape), radiusBottom: shape.radiusA, radiusTop: shape.radiusB },
  }),
});
