import { createScale } from './create-scale.ts';

export const damping = createScale({
  label: 'Damping scale',
  effect: "Times the fabric's dampings.",
  attribute: '_DAMPING_SCALE',
});
