import { tellTime } from '../../state/history-client.ts';
import { tellLeft } from '../../state/task-watch.ts';
import type { TaskEntry } from '../../wire/trials.ts';

const STATES: Readonly<Record<TaskEntry['state'], { word: string; look: string }>> = {
  queued: { word: 'waiting', look: 'text-soft' },
  running: { word: 'running', look: 'font-semibold text-teal' },
  done: { word: 'done', look: 'text-moss' },
  failed: { word: 'failed', look: 'font-semibold text-brick' },
  cancelled: { word: 'cancelled', look: 'text-soft' },
};

const PARTS: Readonly<Record<TaskEntry['kind'], string>> = {
  trial: 'runs',
  search: 'candidates',
  bodies: 'steps',
  reach: 'steps',
  calibration: 'steps',
  advice: 'changes',
  levels: 'levels',
};

const KINDS: Readonly<Record<TaskEntry['kind'], string>> = {
  trial: 'Trial',
  search: 'Search',
  bodies: 'Suggestion',
  reach: 'Suggestion',
  calibration: 'Calibration',
  advice: 'Savings',
  levels: 'Levels of detail',
};

export interface TaskRowProps {
  task: TaskEntry;
  /** Of one that has not ended. */
  onCancel?(): void;
}

/** One task: of which character and which state of it, how far it is, how it ended. */
export function TaskRow({ task, onCancel }: TaskRowProps) {
  const { word, look } = STATES[task.state];
  return (
    <li
      className="grid grid-cols-[1fr_200px_90px_92px] items-center gap-3 border-t border-line py-2"
      data-task={task.state}
    >
      <span className="min-w-0">
        {task.characterId ? (
          <a
            className="block truncate font-semibold hover:underline"
            href={`/characters/${task.characterId}`}
          >
            {task.characterName}
          </a>
        ) : (
          <span className="block font-semibold">This installation</span>
        )}
        <span className="block truncate text-xs text-soft">
          {KINDS[task.kind]} of {task.title}
          {task.isAutomatic && ', by itself'}
          {task.characterId && `, state ${task.revision.toLocaleString('en')}`}
        </span>
      </span>
      <Progress task={task} />
      <span className={look}>{word}</span>
      {onCancel ? (
        <button type="button" className="btn" onClick={onCancel}>
          Cancel
        </button>
      ) : (
        <span className="num text-right text-xs text-soft">
          {tellTime(task.finishedAt ?? task.createdAt)}
        </span>
      )}
      {task.error && <p className="col-span-full text-brick">{task.error}</p>}
    </li>
  );
}

function Progress({ task }: { task: TaskEntry }) {
  const { state, done, total, parts, partsDone, startedAt, finishedAt } = task;
  if (state === 'queued' || state === 'running') {
    const left = tellLeft(task);
    return (
      <span>
        <progress
          className="block h-1.5 w-full"
          value={total > 0 ? done / total : 0}
          max={1}
          aria-label={`${KINDS[task.kind]} of ${task.characterName ?? 'this installation'}`}
        />
        <span className="num text-xs text-soft">
          {left === null ? `${partsDone} of ${parts} ${PARTS[task.kind]}` : `about ${tellSeconds(left)} left`}
        </span>
      </span>
    );
  }
  const seconds = startedAt && finishedAt ? (Date.parse(finishedAt) - Date.parse(startedAt)) / 1000 : null;
  return (
    <span className="num text-xs text-soft">
      {partsDone} of {parts} {PARTS[task.kind]}
      {seconds !== null && `, ${tellSeconds(seconds)}`}
    </span>
  );
}

function tellSeconds(seconds: number): string {
  const whole = Math.max(1, Math.round(seconds));
  return whole < 90 ? `${whole} s` : `${Math.round(whole / 60)} min`;
}
