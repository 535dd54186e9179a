import { useEffect, useState } from 'react';
import { Toaster } from 'sonner';
import { CrowdWork } from '../../state/crowd-work.ts';
import { useStore } from '../../state/store.ts';
import { ErrorBoundary } from '../parts/ErrorBoundary.tsx';
import { PageHead } from '../parts/PageHead.tsx';
import { TOASTS } from '../parts/toasts.ts';
import { CameraCard } from './CameraCard.tsx';
import { GroupsCard } from './GroupsCard.tsx';
import { MembersCard } from './MembersCard.tsx';

/** How many characters of a project, at which distances, a target's budget has room for. */
export function CrowdIsland({ projectId }: { projectId: string }) {
  const [work] = useState(() => new CrowdWork(projectId));
  useEffect(() => {
    void work.load();
    const keep = (): void => void work.keep();
    addEventListener('pagehide', keep);
    return () => removeEventListener('pagehide', keep);
  }, [work]);
  const { crowd, failure } = useStore(work.store, (state) => state);
  return (
    <div className="mx-auto min-h-full max-w-[1180px] px-6 pb-16">
      <PageHead title={crowd ? `Crowd of ${crowd.projectName}` : 'Crowd'} />
      <p className="mt-1 max-w-[720px] text-soft">
        How many characters fit, and at which distances: each costs what its level of detail was measured to
        cost at its size on the screen.
      </p>
      {failure && (
        <p role="alert" className="mt-3 text-brick">
          {failure}
        </p>
      )}
      {crowd && (
        <ErrorBoundary what="The crowd">
          <div className="mt-4 grid grid-cols-[380px_1fr] items-start gap-5">
            <div className="flex flex-col gap-4">
              <CameraCard work={work} crowd={crowd} />
              <GroupsCard work={work} crowd={crowd} />
            </div>
            <MembersCard crowd={crowd} />
          </div>
        </ErrorBoundary>
      )}
      <Toaster position="bottom-center" toastOptions={TOASTS} />
    </div>
  );
}
