import { ChevronDown, FlaskConical } from 'lucide-react';
import { useState } from 'react';
import { listGarments } from '../../../../../core/document/index.ts';
import { useStore } from '../../../../state/store.ts';
import { tellLeft } from '../../../../state/task-watch.ts';
import { countPlan, toPlan } from '../../../../state/trial-choice.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { TaskProgress } from '../../../parts/TaskProgress.tsx';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';
import { PlanOptions } from './PlanOptions.tsx';

/** Orders a trial, says how far it is, and stops it. */
export function RunCard() {
  const { trials, info, version } = useWorkbench();
  const { character, document } = useDocument();
  const { choice, isAutomatic, failure } = useStore(trials.store, (state) => state);
  const tasks = useStore(trials.watch.store, (state) => state.tasks);
  const [isChoosing, setChoosing] = useState(false);
  const open = trials.listOpen(tasks);
  const last = tasks.find((task) => task.kind === 'trial' && task.characterId === info.id);
  const plan = toPlan(character, choice);
  const { runs, frames } = countPlan(character, plan);
  const hasGarments = listGarments(document).length > 0;
  return (
    <section aria-label="Run">
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="btn btn-main"
          disabled={!hasGarments || plan.motions.length === 0 || version !== null}
          title="Measure what is on the screen, on the server"
          onClick={() => void trials.order()}
        >
          <FlaskConical size={15} /> Run a trial
        </button>
        <button
          type="button"
          className="btn btn-quiet !px-1.5"
          aria-expanded={isChoosing}
          onClick={() => setChoosing(!isChoosing)}
        >
          <span className="num text-xs">
            {plan.motions.length === 0
              ? 'nothing chosen'
              : `${runs} ${runs === 1 ? 'run' : 'runs'}, ${frames.toLocaleString('en')} frames`}
          </span>
          <ChevronDown size={14} className={isChoosing ? 'rotate-180' : ''} />
        </button>
        <span className="flex-1" />
        <ToggleChip
          label="By itself after edits"
          hint="When nothing was edited for 20 seconds, every clip is measured as it is set"
          className="chip text-xs whitespace-nowrap"
          isOn={isAutomatic}
          onToggle={(isOn) => trials.setAutomatic(isOn)}
        />
      </div>
      {isChoosing && <PlanOptions />}
      {!hasGarments && <p className="mt-2 text-soft">There is no garment yet: make one in Garment first.</p>}
      {failure && (
        <p role="alert" className="mt-2 border-l-[3px] border-brick bg-surface px-2.5 py-1.5">
          {failure}
        </p>
      )}
      {version && (
        <p className="mt-2 text-soft">
          An earlier state is on the screen. Return to it, or go back to now, to try it.
        </p>
      )}
      {open.map((task) => (
        <div key={task.id} data-task={task.state}>
          <TaskProgress
            label="Trial"
            task={task.state === 'queued' ? `${task.title}: waiting` : task.title}
            share={task.total > 0 ? task.done / task.total : 0}
            secondsLeft={tellLeft(task)}
            onStop={() => void trials.cancel(task)}
          />
        </div>
      ))}
      {open.length === 0 && last?.state === 'failed' && (
        <p role="alert" className="mt-2 border-l-[3px] border-brick bg-surface px-2.5 py-1.5">
          <b className="text-brick">The last trial failed.</b> {last.error}
        </p>
      )}
    </section>
  );
}
