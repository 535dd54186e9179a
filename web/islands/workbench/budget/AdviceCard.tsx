import { useState } from 'react';
import { useStore } from '../../../state/store.ts';
import { isOpen, tellLeft } from '../../../state/task-watch.ts';
import { useBudget } from '../../../state/use-budget.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import type { TaskEntry } from '../../../wire/trials.ts';
import { ClipChips } from '../../parts/ClipChips.tsx';
import { TaskProgress } from '../../parts/TaskProgress.tsx';
import { AdviceBest } from './AdviceBest.tsx';
import { AdviceList } from './AdviceList.tsx';

/** What to change first: looks for it on some clips, lists what each change saves and harms, and gets under the budget. */
export function AdviceCard() {
  const { advising, session, trials, version } = useWorkbench();
  const editor = useDocument();
  const { budget } = useBudget();
  const { advice, failure, isOld, clips: found } = useStore(advising.store, (state) => state);
  useStore(trials.watch.store, (state) => state.tasks);
  const { clips } = editor.character;
  const current = useStore(session, (state) => state.clip) ?? 0;
  const [chosen, setChosen] = useState<ReadonlySet<number> | null>(null);
  const wanted = chosen ?? new Set([current]);
  const task = advising.task && isOpen(advising.task) ? advising.task : null;
  if (clips.length === 0) return null;
  return (
    <section aria-label="What to change first">
      <h2 className="font-semibold">What to change first</h2>
      <p className="mt-0.5 text-xs text-soft">
        Tries what may make this character cheaper, one change after the other, on the clips that you choose.
        Nothing changes until you apply something.
      </p>
      {task ? (
        <TaskProgress
          label="Looking for savings"
          task={tellProgress(task)}
          share={task.done / Math.max(1, task.total)}
          // How many changes there are to try is known when it was played as it is.
          secondsLeft={task.partsDone === 0 ? null : tellLeft(task)}
          onStop={() => void advising.stop()}
        />
      ) : (
        <>
          <div className="mt-1.5">
            <ClipChips label="Clips to try changes on" clips={clips} chosen={wanted} onChange={setChosen} />
          </div>
          <button
            type="button"
            className={`btn mt-2 w-full ${advice ? '' : 'btn-main'}`}
            disabled={wanted.size === 0 || version !== null}
            onClick={() =>
              void advising.order(
                [...wanted].sort((p, q) => p - q),
                budget,
              )
            }
          >
            {advice ? 'Look again' : 'Look for savings'}
          </button>
        </>
      )}
      {failure && (
        <p role="alert" className="mt-1.5 text-xs text-brick">
          {failure}
        </p>
      )}
      {advice?.before && (
        <>
          <p className="mt-2 text-xs text-soft">
            On {found.map((clip) => clips[clip]?.name ?? 'a clip that is gone').join(', ')}:{' '}
            <span className="num">{advice.before.cost.toFixed(2)}</span> ms as it was.
            {isOld && <span className="text-marigold-ink"> Measured before the last edit.</span>}
          </p>
          <AdviceBest advice={advice} isRunning={task !== null} />
          <AdviceList advice={advice} />
        </>
      )}
    </section>
  );
}

function tellProgress({ state, partsDone, parts }: TaskEntry): string {
  if (state === 'queued') return 'Waiting for a worker';
  return partsDone === 0 ? 'Playing it as it is' : `${partsDone} of ${parts} tried`;
}
