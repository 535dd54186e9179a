import { useEffect, useState } from 'react';
import { Toaster } from 'sonner';
import { Workbench, WorkbenchContext } from '../../state/workbench.ts';
import { ErrorBoundary } from '../parts/ErrorBoundary.tsx';
import { Logo } from '../parts/Logo.tsx';
import { WorkbenchView } from './WorkbenchView.tsx';

export interface WorkbenchIslandProps {
  characterId: string;
}

/** Loads a character and opens the workbench on it. */
export function WorkbenchIsland({ characterId }: WorkbenchIslandProps) {
  const [workbench, setWorkbench] = useState<Workbench | null>(null);
  const [failure, setFailure] = useState<string | null>(null);

  useEffect(
    function open() {
      Workbench.open(characterId).then(
        (opened) => {
          document.title = `${opened.info.name} · Cobweb`;
          setWorkbench(opened);
        },
        (error: unknown) => setFailure(error instanceof Error ? error.message : String(error)),
      );
    },
    [characterId],
  );

  if (failure) {
    return (
      <div className="p-6">
        <Logo />
        <div role="alert" className="card mx-auto mt-16 max-w-md p-6">
          <h1 className="text-[20px] font-semibold">This character cannot be opened</h1>
          <p className="mt-2">{failure}</p>
          <a href="/" className="btn btn-main mt-4">
            All projects
          </a>
        </div>
      </div>
    );
  }
  if (!workbench) {
    return (
      <div className="flex h-full flex-col">
        <header className="flex h-13 items-center border-b border-line bg-panel px-4">
          <Logo />
        </header>
        <div className="stage-ground flex flex-1 items-center justify-center text-soft" role="status">
          Loading the character…
        </div>
      </div>
    );
  }
  return (
    <WorkbenchContext value={workbench}>
      <ErrorBoundary what="The workbench">
        <WorkbenchView />
      </ErrorBoundary>
      <Toaster position="bottom-center" />
    </WorkbenchContext>
  );
}
