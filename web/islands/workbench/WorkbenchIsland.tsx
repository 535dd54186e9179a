import { useEffect, useState } from 'react';
import { Toaster } from 'sonner';
import { Workbench, WorkbenchContext } from '../../state/workbench.ts';
import { ErrorBoundary } from '../parts/ErrorBoundary.tsx';
import { OpeningScreen } from '../parts/OpeningScreen.tsx';
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

  if (!workbench) return <OpeningScreen failure={failure} />;
  return (
    <WorkbenchContext value={workbench}>
      <ErrorBoundary what="The workbench">
        <WorkbenchView />
      </ErrorBoundary>
      <Toaster position="bottom-center" />
    </WorkbenchContext>
  );
}
