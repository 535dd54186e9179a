import { useStore } from '../../state/store.ts';
import { useWorkbench } from '../../state/workbench.ts';

/** What the preparation is working on, with its progress and a way out. */
export function PreparationTask() {
  const { preparing } = useWorkbench();
  const { task, share } = useStore(preparing.client.store, (state) => state);
  if (!task) return null;
  return (
    <div className="floating fixed bottom-[160px] left-1/2 z-40 w-[300px] -translate-x-1/2" role="status">
      <div className="flex items-center gap-2">
        <span className="min-w-0 flex-1 truncate">{task}…</span>
        <span className="num text-xs">{Math.round(100 * share)} %</span>
        <button type="button" className="btn !py-0.5" onClick={() => preparing.client.cancel()}>
          Cancel
        </button>
      </div>
      <progress className="mt-1.5 h-1.5 w-full accent-teal" value={share} max={1} />
    </div>
  );
}
