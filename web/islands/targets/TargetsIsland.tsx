import { useEffect, useState } from 'react';
import { Toaster } from 'sonner';
import { useStore } from '../../state/store.ts';
import { Targets } from '../../state/targets.ts';
import { TaskWatch } from '../../state/task-watch.ts';
import { ErrorBoundary } from '../parts/ErrorBoundary.tsx';
import { PageHead } from '../parts/PageHead.tsx';
import { TOASTS } from '../parts/toasts.ts';
import { NewTarget } from './NewTarget.tsx';
import { TargetCard } from './TargetCard.tsx';

/** Machines that games run on: what cloth costs there, and how much of a frame there is for it. */
export function TargetsIsland() {
  const [{ targets, watch }] = useState(() => {
    const watch = new TaskWatch();
    return { watch, targets: new Targets(watch) };
  });
  useEffect(() => {
    watch.open();
    void targets.load();
    return () => watch.close();
  }, [targets, watch]);
  return (
    <div className="mx-auto min-h-full max-w-[1160px] px-6 pb-16">
      <PageHead title="Target profiles" />
      <p className="mt-1 max-w-[680px] text-soft">
        A target is a machine that the game runs on. Cloth costs its counted work times what each piece of it
        takes there. A project chooses its target in the budget card of any of its characters.
      </p>
      <ErrorBoundary what="The list of target profiles">
        <div className="mt-4 grid grid-cols-[1fr_400px] items-start gap-5">
          <TargetList targets={targets} />
          <NewTarget targets={targets} />
        </div>
      </ErrorBoundary>
      <Toaster position="bottom-center" toastOptions={TOASTS} />
    </div>
  );
}

function TargetList({ targets }: { targets: Targets }) {
  const { all, failure } = useStore(targets.store, (state) => state);
  return (
    <div>
      {failure && (
        <p role="alert" className="mb-3 text-brick">
          {failure}
        </p>
      )}
      <ul className="flex flex-col gap-3" aria-label="Target profiles">
        {all.map((target) => (
          <TargetCard key={target.id} target={target} targets={targets} />
        ))}
      </ul>
    </div>
  );
}
