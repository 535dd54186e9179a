import { listGarments } from '../../../../core/document/index.ts';
import { toPlan } from '../../../state/trial-choice.ts';
import type { Command } from './command.ts';

export const trialCommands: readonly Command[] = [
  {
    id: 'run-trial',
    label: 'Run a trial',
    group: 'Character',
    whyNot: ({ workbench: { editor, trials, version } }) => {
      if (version) return 'An earlier state is on the screen.';
      if (listGarments(editor.document).length === 0) return 'There is no garment yet.';
      const { motions } = toPlan(editor.character, trials.store.state.choice);
      return motions.length === 0 ? 'No clip is chosen in Trials.' : null;
    },
    run: ({ workbench }) => {
      workbench.session.set({ stage: 'trials' });
      void workbench.trials.order();
    },
  },
  {
    id: 'tasks',
    label: 'Open the list of tasks',
    group: 'Character',
    run: () => location.assign('/tasks'),
  },
];
