import { Command as Palette } from 'cmdk';
import type { RefObject } from 'react';
import { useStore } from '../../state/store.ts';
import { useWorkbench } from '../../state/workbench.ts';
import type { Viewport } from '../../viewport/viewport.ts';
import { type Command, tellKey } from './commands/command.ts';
import { helpStore } from './commands/help-commands.ts';
import { listCommands } from './commands/list-commands.ts';

/** Every command by its name, with its key; what cannot be done now says why. */
export function CommandPalette({ viewport }: { viewport: RefObject<Viewport | null> }) {
  const isOpen = useStore(helpStore, (state) => state.isPaletteOpen);
  return (
    <Palette.Dialog
      open={isOpen}
      onOpenChange={(isPaletteOpen) => helpStore.set({ isPaletteOpen })}
      label="All commands"
      overlayClassName="fixed inset-0 z-40 bg-veil"
      contentClassName="fixed top-[14vh] left-1/2 z-50 w-[520px] -translate-x-1/2"
      className="card overflow-hidden !rounded-lg shadow-xl"
    >
      {isOpen && <Entries viewport={viewport} />}
    </Palette.Dialog>
  );
}

function Entries({ viewport }: { viewport: RefObject<Viewport | null> }) {
  const workbench = useWorkbench();
  const context = { workbench, viewport: viewport.current };
  const groups = new Map<string, Command[]>();
  for (const command of listCommands(context))
    groups.set(command.group, [...(groups.get(command.group) ?? []), command]);
  const run = (command: Command): void => {
    helpStore.set({ isPaletteOpen: false });
    command.run({ workbench, viewport: viewport.current });
  };
  return (
    <>
      <Palette.Input
        placeholder="What do you want to do?"
        className="w-full border-b border-line bg-surface px-4 py-3 text-[15px] outline-none"
      />
      <Palette.List className="max-h-[50vh] overflow-y-auto bg-surface p-1.5">
        <Palette.Empty className="px-3 py-4 text-soft">No command is called that.</Palette.Empty>
        {[...groups].map(([group, commands]) => (
          <Palette.Group
            key={group}
            heading={group}
            className="[&_[cmdk-group-heading]]:px-2.5 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:font-semibold [&_[cmdk-group-heading]]:text-soft"
          >
            {commands
              .filter(({ id }) => id !== 'palette')
              .map((command) => (
                <Entry
                  key={command.id}
                  command={command}
                  whyNot={command.whyNot?.(context) ?? null}
                  onRun={() => run(command)}
                />
              ))}
          </Palette.Group>
        ))}
      </Palette.List>
    </>
  );
}

function Entry({ command, whyNot, onRun }: { command: Command; whyNot: string | null; onRun(): void }) {
  const { label, keys, release } = command;
  // What lasts as long as a key is held has nothing to do here.
  const reason = release ? 'Hold its key' : whyNot;
  return (
    <Palette.Item
      value={label}
      disabled={reason !== null}
      onSelect={onRun}
      className="flex items-center gap-2 rounded-md px-2.5 py-1.5 data-[disabled=true]:text-soft data-[selected=true]:bg-teal-wash"
    >
      <span className="min-w-0 flex-1 truncate">
        {label}
        {reason && <span className="ml-2 text-xs text-soft">{reason}</span>}
      </span>
      {keys?.[0] && <kbd className="key">{tellKey(keys[0])}</kbd>}
    </Palette.Item>
  );
}
