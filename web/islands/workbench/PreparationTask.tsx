import { useStore } from '../../state/store.ts';
import { useWorkbench } from '../../state/workbench.ts';

/** What the preparation is working on, with its progress and a way out; or why the newest one could not be made. */
export function PreparationTask() {
  const { preparing } = useWorkbench();
  const { task, share, failure } = useStore(preparing.client.store, (state) => state);
  if (!task && failure)
    return (
      <div
        role="alert"
        className="card fixed bottom-[160px] left-1/2 z-40 flex w-[420px] -translate-x-1/2 items-start gap-3 border-l-[3px] !border-l-brick bg-panel p-3 shadow-lg"
      >
        <p className="min-w-0 flex-1 break-words">{failure}</p>
        <button
          type="button"
          className="btn !py-0.5"
          onClick={() => preparing.client.store.set({ failure: null })}
        >
          Close
        </button>
      </div>
    );
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
      <progress className="mt-1.5 h-1.5 w-full" value={share} max={1} />
    </div>
  );
}
