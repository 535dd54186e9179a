import { createScale } from './create-scale.ts';

export const stiffness = createScale({
  label: 'Stiffness scale',
  effect: "Times the fabric's stretch, shear and bend stiffness.",
  attribute: '_STIFFNESS_SCALE',
});
