import { stepBrushRadius, stepBrushValue } from '../../../state/step-brush.ts';
import type { Command, CommandContext } from './command.ts';

const needsReach = ({ workbench }: CommandContext): string | null =>
  workbench.session.state.stage === 'reach' ? null : 'It works on the stage Reach';
const needsGarment = ({ workbench }: CommandContext): string | null =>
  workbench.reach.garment ? null : 'It needs a garment';

export const reachCommands: readonly Command[] = [
  {
    id: 'brush-smaller',
    label: 'Smaller brush',
    group: 'Brush',
    keys: ['['],
    repeats: true,
    run: ({ workbench }) => stepBrushRadius(workbench.session, -1),
  },
  {
    id: 'brush-larger',
    label: 'Larger brush',
    group: 'Brush',
    keys: [']'],
    repeats: true,
    run: ({ workbench }) => stepBrushRadius(workbench.session, 1),
  },
  {
    id: 'value-lower',
    label: 'Lower the brush value',
    group: 'Brush',
    keys: ['-'],
    repeats: true,
    whyNot: needsReach,
    run: ({ workbench }) => stepBrushValue(workbench.session, -1),
  },
  {
    id: 'value-raise',
    label: 'Raise the brush value',
    group: 'Brush',
    keys: ['='],
    repeats: true,
    whyNot: needsReach,
    run: ({ workbench }) => stepBrushValue(workbench.session, 1),
  },
  {
    id: 'pick-value',
    label: 'Take the value under the cursor',
    group: 'Brush',
    keys: ['v'],
    whyNot: needsReach,
    run: ({ viewport }) => void viewport?.pickValue(),
  },
  {
    id: 'smooth',
    label: 'Even out with any brush, while held',
    group: 'Brush',
    keys: ['s'],
    whyNot: needsReach,
    run: ({ workbench }) => workbench.reach.store.set({ isSmoothing: true }),
    release: ({ workbench }) => workbench.reach.store.set({ isSmoothing: false }),
  },
  {
    id: 'suggest-reach',
    label: 'Suggest max distance from the clips',
    group: 'Brush',
    whyNot: needsGarment,
    run: ({ workbench }) => {
      workbench.session.set({ stage: 'reach', channel: 'maxDistance' });
      void workbench.suggesting.start();
    },
  },
];
