import { type RefObject, useEffect } from 'react';
import { toast } from 'sonner';
import { STAGES } from '../../state/session.ts';
import { stepBrushRadius, stepBrushValue } from '../../state/step-brush.ts';
import { useWorkbench, type Workbench } from '../../state/workbench.ts';
import type { Viewport } from '../../viewport/viewport.ts';

/** Arrow keys turn the view about the character by so much, rad. */
const TURN_STEP = Math.PI / 12;
/** Around and up. */
const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** Keys of the workbench; not while typing. */
export function useShortcuts(viewport: RefObject<Viewport | null>): void {
  const workbench = useWorkbench();
  useEffect(
    function listenForKeys() {
      const press = (event: KeyboardEvent): void => {
        const target = event.target as HTMLElement;
        if (target.closest('textarea, select, [role=dialog]')) return;
        // A ticked box takes nothing but the space bar.
        const { type } = target as HTMLInputElement;
        if (target.matches('input') && type !== 'range' && !(type === 'checkbox' && event.key !== ' '))
          return;
        if (handle(event, workbench, viewport.current)) event.preventDefault();
      };
      const lift = (event: KeyboardEvent): void => {
        const key = event.key.toLowerCase();
        if (key === 's') workbench.reach.store.set({ isSmoothing: false });
        if (key === 't') viewport.current?.setTurning(false);
      };
      // A key that is let go in another window is not heard here.
      const leave = (): void => {
        workbench.reach.store.set({ isSmoothing: false });
        viewport.current?.setTurning(false);
      };
      addEventListener('keydown', press);
      addEventListener('keyup', lift);
      addEventListener('blur', leave);
      return () => {
        removeEventListener('keydown', press);
        removeEventListener('keyup', lift);
        removeEventListener('blur', leave);
      };
    },
    [workbench, viewport],
  );
}

function handle(event: KeyboardEvent, workbench: Workbench, viewport: Viewport | null): boolean {
  const { editor, session } = workbench;
  const { state } = session;
  if (event.ctrlKey || event.metaKey) {
    const key = event.key.toLowerCase();
    const isRedo = (key === 'z' && event.shiftKey) || key === 'y';
    if (!isRedo && key !== 'z') return false;
    const label = isRedo ? editor.redo() : editor.undo();
    if (label) toast(`${isRedo ? 'Redid' : 'Undid'}: ${label}`, { duration: 1500 });
    return true;
  }
  if (event.altKey) return false;
  const stage = STAGES.find(({ key }) => key === event.key);
  if (stage) {
    session.set({ stage: stage.stage });
    return true;
  }
  const arrow = ARROWS[event.key];
  if (arrow) {
    // Elsewhere arrows move within lists, tabs and sliders.
    if (event.target !== document.body) return false;
    viewport?.turnView(arrow[0] * TURN_STEP, arrow[1] * TURN_STEP);
    return true;
  }
  switch (event.key) {
    case 't':
      viewport?.setTurning(true);
      return true;
    case ' ':
      workbench.playback.setPlaying(!state.isPlaying);
      return true;
    case ',':
    case '.':
      workbench.playback.stepFrame(event.key === ',' ? -1 : 1);
      return true;
    case '[':
    case ']':
      stepBrushRadius(session, event.key === '[' ? -1 : 1);
      return true;
    case '-':
    case '=':
      if (state.stage !== 'reach') return false;
      stepBrushValue(session, event.key === '-' ? -1 : 1);
      return true;
    case 's':
      if (state.stage !== 'reach') return false;
      workbench.reach.store.set({ isSmoothing: true });
      return true;
    case 'v':
      return viewport?.pickValue() !== null;
    case 'b':
      workbench.standInBind();
      return true;
    case 'n':
      workbench.playback.stepSimulation();
      return true;
    case 'p':
      workbench.playback.setPace(state.pace === 0 ? 1 : 0);
      return true;
    case 'f':
      viewport?.frameSelected();
      return true;
    case 'Home':
      viewport?.frameAll();
      return true;
    default:
      return false;
  }
}
