import { createScale } from './create-scale.ts';

export const drag = createScale({
  label: 'Drag scale',
  effect: 'Times how strongly moving air takes hold.',
  attribute: '_DRAG_SCALE',
});
