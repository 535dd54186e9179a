import { type RefObject, useEffect } from 'react';
import { createKeybindingsHandler } from 'tinykeys';
import { useStore } from '../../../state/store.ts';
import { useWorkbench } from '../../../state/workbench.ts';
import type { Viewport } from '../../../viewport/viewport.ts';
import { type Command, type CommandContext, isCharacterKey } from './command.ts';
import { helpStore } from './help-commands.ts';
import { listCommands } from './list-commands.ts';

/** Listens for the keys of all commands; not while typing, and not for what a focused control takes itself. */
export function useCommandKeys(viewport: RefObject<Viewport | null>): void {
  const workbench = useWorkbench();
  const hasCharacterKeys = useStore(helpStore, (state) => state.hasCharacterKeys);
  useEffect(
    function listenForKeys() {
      const context = (): CommandContext => ({ workbench, viewport: viewport.current });
      const isHeard = (key: string): boolean => hasCharacterKeys || !isCharacterKey(key);
      const commands = listCommands(context()).filter(({ keys }) => keys?.some(isHeard));
      const held = commands.filter(({ release }) => release);
      const press = createKeybindingsHandler(
        Object.fromEntries(
          commands.flatMap((command) =>
            command.keys!.filter(isHeard).map((key) => [key, (event) => runByKey(command, event, context())]),
          ),
        ),
        { ignore: isTakenElsewhere },
      );
      const lift = (event: KeyboardEvent): void => {
        for (const { keys, release } of held)
          if (keys!.includes(event.key.toLowerCase())) release!(context());
      };
      // A key that is let go in another window is not heard here.
      const leave = (): void => {
        for (const { release } of held) release!(context());
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
    [workbench, viewport, hasCharacterKeys],
  );
}

function runByKey(command: Command, event: KeyboardEvent, context: CommandContext): void {
  if (event.repeat && !command.repeats) return;
  if (command.whyNot?.(context)) return;
  event.preventDefault();
  command.run(context);
}

/** Whether the key belongs to what has the focus: text, a dialog, or a control that the key works on. */
function isTakenElsewhere(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement;
  if (event.isComposing || target.closest('textarea, select, [role=dialog], [role=alertdialog]')) return true;
  // Space presses what is focused; arrows move within lists, tabs and sliders.
  const isPress = event.key === ' ' && target.closest('button, a, summary, [role=button], input');
  const isMove = event.key.startsWith('Arrow') && target !== document.body;
  if (isPress || isMove) return true;
  const { type } = target as HTMLInputElement;
  return target.matches('input') && type !== 'range' && type !== 'checkbox';
}
