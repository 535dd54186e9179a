import type { Stage } from '../../../state/session.ts';
import { Store } from '../../../state/store.ts';
import type { Command } from './command.ts';

const KEYS_OFF = 'character-keys';

/** Address of the manual on a stage. */
export function getManualAddress(stage: Stage): string {
  return `/manual/${stage === 'simMesh' ? 'sim-mesh' : stage}`;
}

/** What is open of the helps, and whether keys of one character are listened to. */
export const helpStore = new Store<{
  isPaletteOpen: boolean;
  isSheetOpen: boolean;
  isHistoryOpen: boolean;
  isTourOn: boolean;
  hasCharacterKeys: boolean;
}>({
  isPaletteOpen: false,
  isSheetOpen: false,
  isHistoryOpen: false,
  isTourOn: false,
  hasCharacterKeys: globalThis.localStorage?.getItem(KEYS_OFF) !== 'off',
});

export function setCharacterKeys(isOn: boolean): void {
  localStorage.setItem(KEYS_OFF, isOn ? 'on' : 'off');
  helpStore.set({ hasCharacterKeys: isOn });
}

export const helpCommands: readonly Command[] = [
  {
    id: 'palette',
    label: 'All commands',
    group: 'Help',
    keys: ['$mod+k'],
    run: () => helpStore.set({ isPaletteOpen: true, isSheetOpen: false }),
  },
  {
    id: 'keys',
    label: 'Keys',
    group: 'Help',
    keys: ['[Shift]+?'],
    run: () => helpStore.set({ isSheetOpen: true, isPaletteOpen: false }),
  },
  {
    id: 'manual',
    label: 'Manual on this stage',
    group: 'Help',
    keys: ['F1'],
    run: ({ workbench }) => void open(getManualAddress(workbench.session.state.stage), '_blank'),
  },
  {
    id: 'tour',
    label: 'First garment, step by step',
    group: 'Help',
    run: () => helpStore.set({ isTourOn: true, isPaletteOpen: false }),
  },
];
