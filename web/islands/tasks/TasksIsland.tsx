import { useEffect, useState } from 'react';
import { Toaster, toast } from 'sonner';
import { api } from '../../state/api.ts';
import { useStore } from '../../state/store.ts';
import { isOpen, TaskWatch } from '../../state/task-watch.ts';
import type { TaskEntry } from '../../wire/trials.ts';
import { ErrorBoundary } from '../parts/ErrorBoundary.tsx';
import { PageHead } from '../parts/PageHead.tsx';
import { TOASTS } from '../parts/toasts.ts';
import { TaskRow } from './TaskRow.tsx';

/** Long work of all characters: what runs, what waits, what has ended. */
export function TasksIsland() {
  const [watch] = useState(() => new TaskWatch());
  useEffect(() => {
    watch.open();
    return () => watch.close();
  }, [watch]);
  return (
    <div className="mx-auto min-h-full max-w-[960px] px-6 pb-16">
      <PageHead title="Tasks" />
      <p className="mt-1 max-w-[640px] text-soft">
        Long work that the server does while you go on. Any number of machines can share it: start{' '}
        <code className="num text-xs">./cobweb worker</code> on them.
      </p>
      <ErrorBoundary what="The list of tasks">
        <TaskTables watch={watch} />
      </ErrorBoundary>
      <Toaster position="bottom-center" toastOptions={TOASTS} />
    </div>
  );
}

function TaskTables({ watch }: { watch: TaskWatch }) {
  const { tasks, isListed, isConnected } = useStore(watch.store, (state) => state);
  const cancel = (task: TaskEntry): void => {
    api.cancelTask(task.id).then(
      (cancelled) => watch.put(cancelled),
      (error: Error) => toast.error(error.message),
    );
  };
  const running = tasks.filter(isOpen).reverse();
  const ended = tasks.filter((task) => !isOpen(task));
  return (
    <>
      {isListed && !isConnected && (
        <p role="alert" className="mt-3 text-brick">
          The server does not answer. This list is of before; it goes on by itself when the server is back.
        </p>
      )}
      <h2 className="mt-5 font-semibold">Running and waiting</h2>
      {isListed && running.length === 0 && <p className="mt-1 text-soft">Nothing runs, and nothing waits.</p>}
      <ul className="mt-1" aria-label="Running and waiting">
        {running.map((task) => (
          <TaskRow key={task.id} task={task} onCancel={() => cancel(task)} />
        ))}
      </ul>
      <h2 className="mt-6 font-semibold">Ended</h2>
      {isListed && ended.length === 0 && (
        <p className="mt-1 text-soft">
          Nothing yet. Run a trial in the stage Trials of a character: it is listed here.
        </p>
      )}
      <ul className="mt-1" aria-label="Ended">
        {ended.map((task) => (
          <TaskRow key={task.id} task={task} />
        ))}
      </ul>
    </>
  );
}
