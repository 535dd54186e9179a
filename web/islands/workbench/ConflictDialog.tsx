import { AlertDialog } from 'radix-ui';
import { useSaveState, useWorkbench } from '../../state/workbench.ts';

/** Two windows changed the same thing: says what, and lets the user choose. Nothing is lost before that. */
export function ConflictDialog() {
  const { saver, editor } = useWorkbench();
  const state = useSaveState();
  if (state.kind !== 'conflict') return null;
  const names = state.conflicts.map(({ id, record }) => {
    const ours = editor.document.records.get(id as Parameters<typeof editor.document.records.get>[0]);
    const known = record ?? ours;
    const name = known && 'name' in known ? known.name : 'scene settings';
    return known?.type === 'channel' ? `painted map "${name}"` : `${known?.type ?? 'record'} "${name}"`;
  });
  return (
    <AlertDialog.Root open>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-50 bg-ink/30" />
        <AlertDialog.Content className="card fixed top-1/2 left-1/2 z-50 w-[430px] -translate-x-1/2 -translate-y-1/2 bg-panel p-5 shadow-xl">
          <AlertDialog.Title className="text-[16px] font-semibold">
            Another window was here first
          </AlertDialog.Title>
          <AlertDialog.Description className="mt-2">
            These were saved from another window after you opened them: {[...new Set(names)].join(', ')}. Your
            own changes are still here and not saved yet.
          </AlertDialog.Description>
          <div className="mt-4 flex justify-end gap-2">
            <button type="button" className="btn" onClick={() => saver.resolve('theirs')}>
              Take theirs
            </button>
            <button type="button" className="btn btn-main" onClick={() => saver.resolve('ours')}>
              Keep mine
            </button>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
