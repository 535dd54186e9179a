import { defineRound, measureLength } from './round-shape.ts';

/** All that is closer to a segment than one radius. */
export const capsule = defineRound({
  label: 'Capsule',
  ends: { a: 'Start', b: 'End' },
  radii: { radiusA: 'Radius' },
  toRound: ({ a, b, radiusA }) => ({ a, b, radiusA, radiusB: radiusA }),
  toImplicit: (shape) => ({
    type: 'capsule',
    capsule: { height: measureLength(shape), radiusBottom: shape.radiusA, radiusTop: shape.radiusA },
  }),
});
