import { toast } from 'sonner';
import type { Command } from './command.ts';
import { helpStore } from './help-commands.ts';

export const editCommands: readonly Command[] = [
  {
    id: 'undo',
    label: 'Undo',
    group: 'Character',
    keys: ['$mod+z'],
    repeats: true,
    whyNot: ({ workbench }) => (workbench.editor.undoLabel ? null : 'There is nothing to undo'),
    run: ({ workbench }) => {
      const label = workbench.editor.undo();
      if (label) toast(`Undid: ${label}`, { duration: 1500 });
    },
  },
  {
    id: 'redo',
    label: 'Redo',
    group: 'Character',
    keys: ['$mod+Shift+z', '$mod+y'],
    repeats: true,
    whyNot: ({ workbench }) => (workbench.editor.redoLabel ? null : 'There is nothing to redo'),
    run: ({ workbench }) => {
      const label = workbench.editor.redo();
      if (label) toast(`Redid: ${label}`, { duration: 1500 });
    },
  },
  {
    id: 'versions',
    label: 'Versions: keep, look at, return to',
    group: 'Character',
    whyNot: ({ workbench }) => (workbench.version ? 'This is an earlier version' : null),
    run: () => helpStore.set({ isHistoryOpen: true }),
  },
  {
    id: 'compare',
    label: 'Compare two variants side by side',
    group: 'Character',
    whyNot: ({ workbench }) => (workbench.session.state.garmentId ? null : 'It needs a garment'),
    run: ({ workbench }) => {
      location.href = `/characters/${workbench.info.id}/compare`;
    },
  },
  {
    id: 'library',
    label: 'Back to the library',
    group: 'Character',
    run: () => {
      location.href = '/';
    },
  },
];
