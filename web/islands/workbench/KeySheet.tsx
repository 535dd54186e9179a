import { Dialog } from 'radix-ui';
import { useStore } from '../../state/store.ts';
import { useWorkbench } from '../../state/workbench.ts';
import { type Command, isCharacterKey, tellKey } from './commands/command.ts';
import { helpStore, setCharacterKeys } from './commands/help-commands.ts';
import { listCommands } from './commands/list-commands.ts';

/** What the mouse does with a key held, which is no command. */
const MOUSE: readonly [keys: string, what: string][] = [
  ['Wheel', 'Zoom'],
  ['Alt wheel', 'Brush radius, over the mesh'],
  ['Shift wheel', 'Brush value, over the mesh'],
  ['Drag beside the mesh', 'Turn the view'],
  ['Right drag', 'Move the view'],
];

/** All keys on one sheet. */
export function KeySheet() {
  const isOpen = useStore(helpStore, (state) => state.isSheetOpen);
  return (
    <Dialog.Root open={isOpen} onOpenChange={(isSheetOpen) => helpStore.set({ isSheetOpen })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-veil" />
        <Dialog.Content
          aria-describedby={undefined}
          className="card fixed top-1/2 left-1/2 z-50 max-h-[86vh] w-[1040px] -translate-x-1/2 -translate-y-1/2 overflow-y-auto !rounded-lg bg-panel p-5 shadow-xl"
        >
          {isOpen && <Sheet />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Sheet() {
  const workbench = useWorkbench();
  const hasCharacterKeys = useStore(helpStore, (state) => state.hasCharacterKeys);
  const commands = listCommands({ workbench, viewport: null }).filter(({ keys }) => keys);
  const groups = [...new Set(commands.map(({ group }) => group))];
  const isOff = ({ keys }: Command): boolean => !hasCharacterKeys && keys!.every(isCharacterKey);
  return (
    <>
      <Dialog.Title className="text-[20px] font-semibold tracking-tight">Keys</Dialog.Title>
      <div className="mt-3 columns-3 gap-8">
        {groups.map((group) => (
          <section key={group} className="mb-4 break-inside-avoid">
            <h2 className="heading mb-1">{group}</h2>
            {commands
              .filter((command) => command.group === group)
              .map((command) => (
                <KeyRow key={command.id} keys={command.keys!.map(tellKey)} isOff={isOff(command)}>
                  {command.label}
                </KeyRow>
              ))}
          </section>
        ))}
        <section className="break-inside-avoid">
          <h2 className="heading mb-1">Mouse</h2>
          {MOUSE.map(([keys, what]) => (
            <KeyRow key={what} keys={[keys]}>
              {what}
            </KeyRow>
          ))}
        </section>
      </div>
      <label className="mt-4 flex items-center gap-2 border-t border-line pt-3">
        <input
          type="checkbox"
          className="accent-teal"
          checked={hasCharacterKeys}
          onChange={(event) => setCharacterKeys(event.target.checked)}
        />
        Listen to keys of one character
        <span className="text-soft">Off, the palette (Ctrl K) does the same.</span>
      </label>
      <Dialog.Close className="btn mt-3">Close</Dialog.Close>
    </>
  );
}

function KeyRow({ keys, isOff = false, children }: { keys: string[]; isOff?: boolean; children: string }) {
  return (
    <p className={`flex items-baseline gap-2 py-[2px] ${isOff ? 'text-soft line-through' : ''}`}>
      <span className="min-w-0 flex-1">{children}</span>
      {keys.map((key) => (
        <kbd key={key} className="key">
          {key}
        </kbd>
      ))}
    </p>
  );
}
