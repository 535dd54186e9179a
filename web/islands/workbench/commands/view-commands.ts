import { listFreeSections } from '../../../../core/document/index.ts';
import type { Visibility } from '../../../state/session.ts';
import { setTheme } from '../../../state/theme.ts';
import type { Workbench } from '../../../state/workbench.ts';
import { setVisibility } from '../set-visibility.ts';
import type { Command } from './command.ts';

/** Arrow keys turn the view about the character by so much, rad. */
const TURN_STEP = Math.PI / 12;

const TURNS = [
  { id: 'turn-left', label: 'Turn the view left', key: 'ArrowLeft', around: -1, up: 0 },
  { id: 'turn-right', label: 'Turn the view right', key: 'ArrowRight', around: 1, up: 0 },
  { id: 'turn-up', label: 'Turn the view up', key: 'ArrowUp', around: 0, up: 1 },
  { id: 'turn-down', label: 'Turn the view down', key: 'ArrowDown', around: 0, up: -1 },
];

/** Draws the character's own sections another way; again the first way when they are drawn so already. */
export function toggleCharacter({ session, editor }: Workbench, wanted: Exclude<Visibility, 'shown'>): void {
  const sections = listFreeSections(editor.document, editor.character.sections);
  const isSo = session.state.visibility.get(sections[0] ?? -1) === wanted;
  for (const index of sections) setVisibility(session, index, isSo ? 'shown' : wanted);
}

export function toggleLowDetail({ session }: Workbench): void {
  const { lightDrawing } = session.state;
  session.set({ lightDrawing: !lightDrawing });
  localStorage.setItem('light-drawing', lightDrawing ? 'off' : 'on');
}

function toggle(
  id: string,
  label: string,
  field: 'showBodies' | 'showTriangles' | 'showWhiskers' | 'isClay',
): Command {
  return {
    id,
    label,
    group: 'View',
    run: ({ workbench: { session } }) => session.set({ [field]: !session.state[field] }),
  };
}

const themeCommands: readonly Command[] = (
  [
    ['day', 'Colours: by day'],
    ['dusk', 'Colours: at dusk'],
    ['system', 'Colours: as the system has them'],
  ] as const
).map(([theme, label]) => ({ id: `theme-${theme}`, label, group: 'View', run: () => setTheme(theme) }));

export const viewCommands: readonly Command[] = [
  ...themeCommands,
  {
    id: 'frame-selected',
    label: 'Frame the selected garment',
    group: 'View',
    keys: ['f'],
    run: ({ viewport }) => viewport?.frameSelected(),
  },
  {
    id: 'frame-all',
    label: 'Frame the whole character',
    group: 'View',
    keys: ['Home'],
    run: ({ viewport }) => viewport?.frameAll(),
  },
  {
    id: 'turn-by-dragging',
    label: 'Turn the view by dragging, while held',
    group: 'View',
    keys: ['t'],
    run: ({ viewport }) => viewport?.setTurning(true),
    release: ({ viewport }) => viewport?.setTurning(false),
  },
  {
    id: 'key-pointer',
    label: 'Point without a mouse: arrows move, Enter presses, Esc leaves',
    group: 'View',
    keys: ['k'],
    run: ({ viewport }) => viewport?.keyPointer.start(),
  },
  ...TURNS.map(
    ({ id, label, key, around, up }): Command => ({
      id,
      label,
      group: 'View',
      keys: [key],
      repeats: true,
      run: ({ viewport }) => viewport?.turnView(around * TURN_STEP, up * TURN_STEP),
    }),
  ),
  {
    id: 'show-character',
    label: 'Show or hide the character',
    group: 'View',
    run: ({ workbench }) => toggleCharacter(workbench, 'hidden'),
  },
  {
    id: 'see-through',
    label: 'Make the character see-through',
    group: 'View',
    run: ({ workbench }) => toggleCharacter(workbench, 'ghost'),
  },
  {
    id: 'full-view',
    label: 'Full view: the viewport and the reel alone, or everything',
    group: 'View',
    keys: ['z'],
    run: ({ workbench: { session } }) => session.set({ isFullView: !session.state.isFullView }),
  },
  toggle('clay', 'Plain clay, or the looks of the file', 'isClay'),
  toggle('show-bodies', 'Show or hide collision bodies', 'showBodies'),
  toggle('show-triangles', 'Show or hide triangles', 'showTriangles'),
  toggle('show-whiskers', 'Show or hide whiskers', 'showWhiskers'),
  {
    id: 'low-detail',
    label: 'Low-detail view',
    group: 'View',
    run: ({ workbench }) => toggleLowDetail(workbench),
  },
];
