import { AlertDialog } from 'radix-ui';
import { toast } from 'sonner';
import { tellRecord } from '../../../core/document/index.ts';
import type { OpenConflict } from '../../state/saver.ts';
import { useSaveState, useWorkbench } from '../../state/workbench.ts';

/**
 * Two windows changed the same thing to different values: both are shown side by side, and the user chooses. What only one of
 * them changed is merged already. Nothing is lost before that.
 */
export function ConflictDialog() {
  const { saver } = useWorkbench();
  const state = useSaveState();
  if (state.kind !== 'conflict') return null;
  const rows = state.conflicts.flatMap(listDifferences);
  const keep = (): void => {
    const time = new Date().toLocaleTimeString('en', { hour: '2-digit', minute: '2-digit', hour12: false });
    saver.keepAsVersion(`Kept from a window at ${time}`).then(
      () => toast('Yours is kept as a version, theirs is on the screen'),
      (error: Error) => toast.error(error.message),
    );
  };
  return (
    <AlertDialog.Root open>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-50 bg-veil" />
        <AlertDialog.Content className="card fixed top-1/2 left-1/2 z-50 w-[560px] -translate-x-1/2 -translate-y-1/2 bg-panel p-5 shadow-xl">
          <AlertDialog.Title className="text-[16px] font-semibold">
            Another window was here first
          </AlertDialog.Title>
          <AlertDialog.Description className="mt-2">
            Both windows changed the same things. Your changes are still here and not saved yet.
          </AlertDialog.Description>
          <div className="mt-3 max-h-[50vh] overflow-y-auto">
            <table className="w-full text-left">
              <thead>
                <tr className="border-b border-line text-xs text-soft">
                  <th className="py-1 font-semibold">What</th>
                  <th className="w-[110px] font-semibold">Mine</th>
                  <th className="w-[110px] font-semibold">Theirs</th>
                </tr>
              </thead>
              <tbody>
                {rows.map(({ what, mine, theirs }) => (
                  <tr key={what} className="border-b border-line align-baseline">
                    <td className="py-1 pr-3">{what}</td>
                    <td className="num text-xs">{mine}</td>
                    <td className="num text-xs">{theirs}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <div className="mt-4 flex justify-end gap-2">
            <button type="button" className="btn" onClick={keep}>
              Keep mine as a version
            </button>
            <button type="button" className="btn" onClick={() => saver.resolve('theirs')}>
              Take theirs
            </button>
            <button type="button" className="btn btn-main" onClick={() => saver.resolve('mine')}>
              Keep mine
            </button>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}

/** Rows of the table: one for each value in conflict. */
function listDifferences({
  mine,
  theirs,
  fields,
  vertices,
}: OpenConflict): { what: string; mine: string; theirs: string }[] {
  const known = mine ?? theirs;
  const name = known ? tellRecord(known) : 'a record';
  const rows = fields.map(({ path, mine: ours, theirs: others }) => ({
    what: path.length > 0 ? `${name}, ${path[path.length - 1]}` : name,
    mine: tellValue(ours),
    theirs: tellValue(others),
  }));
  if (vertices > 0) {
    const count = `${vertices.toLocaleString('en')} ${vertices === 1 ? 'vertex' : 'vertices'}`;
    rows.push({ what: name, mine: count, theirs: 'other values' });
  }
  return rows;
}

function tellValue(value: unknown): string {
  if (value === null || value === undefined) return 'removed';
  if (typeof value === 'number') return String(Number(value.toPrecision(4)));
  return typeof value === 'string' ? value : 'changed';
}
