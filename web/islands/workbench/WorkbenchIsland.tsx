import { useEffect, useState } from 'react';
import { Toaster, toast } from 'sonner';
import type { ViewedVersion } from '../../state/viewed-version.ts';
import { Workbench, WorkbenchContext } from '../../state/workbench.ts';
import { ErrorBoundary } from '../parts/ErrorBoundary.tsx';
import { OpeningScreen } from '../parts/OpeningScreen.tsx';
import { toastUndo } from '../parts/toast-undo.ts';
import { TOASTS } from '../parts/toasts.ts';
import { WorkbenchView } from './WorkbenchView.tsx';

/** Versions that the address asks for: one to look at, or one to return to. */
function readAddress(): { version: ViewedVersion | null; returnTo: ViewedVersion | null } {
  const query = new URLSearchParams(location.search);
  const read = (key: string): ViewedVersion | null => {
    const id = query.get(key);
    if (!id) return null;
    const isTrial = query.get('kind') === 'trial';
    return { id, label: query.get('label') ?? 'an earlier version', isTrial };
  };
  return { version: read('version'), returnTo: read('returnTo') };
}

/** Returns to a version once; the address does not ask for it again. */
async function goBack(workbench: Workbench, version: ViewedVersion): Promise<void> {
  history.replaceState(null, '', location.pathname);
  try {
    const isChanged = await workbench.returnTo(version);
    if (isChanged) toastUndo(workbench.editor, `Everything is as in ${version.label}`);
    else toast(`Everything is as in ${version.label} already`);
  } catch (error) {
    toast.error((error as Error).message);
  }
}

export interface WorkbenchIslandProps {
  characterId: string;
}

/** Loads a character and opens the workbench on it. */
export function WorkbenchIsland({ characterId }: WorkbenchIslandProps) {
  const [workbench, setWorkbench] = useState<Workbench | null>(null);
  const [failure, setFailure] = useState<string | null>(null);

  useEffect(
    function open() {
      const { version, returnTo } = readAddress();
      Workbench.open(characterId, version).then(
        (opened) => {
          document.title = `${opened.info.name} · Cobweb`;
          setWorkbench(opened);
          if (returnTo) void goBack(opened, returnTo);
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
      {/* Over the picture, not over the reel. */}
      <Toaster position="bottom-center" offset={{ bottom: 160 }} toastOptions={TOASTS} />
    </WorkbenchContext>
  );
}
