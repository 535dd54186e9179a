import { STAGES } from '../../../state/session.ts';
import type { Command } from './command.ts';

export const stageCommands: readonly Command[] = [
  ...STAGES.map(
    ({ stage, label, key }): Command => ({
      id: `stage-${stage}`,
      label: `Go to ${label}`,
      group: 'Stages',
      keys: [key],
      run: ({ workbench }) => workbench.session.set({ stage }),
    }),
  ),
  {
    id: 'levels',
    label: 'Levels of detail',
    group: 'Stages',
    keys: ['0'],
    run: ({ workbench }) => workbench.session.set({ stage: 'levels' }),
  },
];
