import { useState } from 'react';
import { useStore } from '../../../../state/store.ts';
import { isOpen, tellLeft } from '../../../../state/task-watch.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { ClipChips } from '../../../parts/ClipChips.tsx';
import { TaskProgress } from '../../../parts/TaskProgress.tsx';

/** Orders what every size costs and looks like, and says how far that is. */
export function MeasureLevels() {
  const { levels, session, trials, version } = useWorkbench();
  const { clips } = useDocument().character;
  const { found } = useStore(levels.store, (state) => state);
  useStore(trials.watch.store, (state) => state.tasks);
  const current = useStore(session, (state) => state.clip) ?? 0;
  const [chosen, setChosen] = useState<ReadonlySet<number> | null>(null);
  const wanted = chosen ?? new Set([current]);
  const task = levels.task && isOpen(levels.task) ? levels.task : null;
  if (clips.length === 0) return <p className="text-xs text-soft">Levels are measured on clips: add one.</p>;
  if (task)
    return (
      <TaskProgress
        label="Measuring levels"
        task={
          task.state === 'queued'
            ? 'Waiting for a worker'
            : `${task.partsDone} of ${task.parts} sizes measured`
        }
        share={task.done / Math.max(1, task.total)}
        secondsLeft={tellLeft(task)}
        onStop={() => void levels.stop()}
      />
    );
  return (
    <div className="mt-2 flex items-start justify-between gap-3">
      <ClipChips label="Clips to measure levels on" clips={clips} chosen={wanted} onChange={setChosen} />
      <button
        type="button"
        className={`btn !py-0.5 whitespace-nowrap text-xs ${found ? '' : 'btn-main'}`}
        disabled={wanted.size === 0 || version !== null}
        title="Plays every size on the server: cost, show-through, penetration, stretch, and how it goes over"
        onClick={() => void levels.order([...wanted].sort((p, q) => p - q))}
      >
        {found ? 'Measure again' : 'Measure the sizes'}
      </button>
    </div>
  );
}
