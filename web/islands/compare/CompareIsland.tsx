import { useEffect, useState } from 'react';
import { Toaster } from 'sonner';
import { Comparison } from '../../state/comparison.ts';
import { ErrorBoundary } from '../parts/ErrorBoundary.tsx';
import { OpeningScreen } from '../parts/OpeningScreen.tsx';
import { TOASTS } from '../parts/toasts.ts';
import { CompareView } from './CompareView.tsx';

export interface CompareIslandProps {
  characterId: string;
}

/** Loads a character and shows two settings of it side by side. */
export function CompareIsland({ characterId }: CompareIslandProps) {
  const [comparison, setComparison] = useState<Comparison | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  useEffect(
    function open() {
      let opened: Comparison | null = null;
      Comparison.open(characterId).then(
        (made) => {
          opened = made;
          document.title = `${made.info.name}, compared · Cobweb`;
          setComparison(made);
        },
        (error: unknown) => setFailure(error instanceof Error ? error.message : String(error)),
      );
      return () => opened?.dispose();
    },
    [characterId],
  );
  if (!comparison) return <OpeningScreen failure={failure} />;
  return (
    <>
      <ErrorBoundary what="The comparison">
        <CompareView comparison={comparison} />
      </ErrorBoundary>
      <Toaster position="bottom-center" toastOptions={TOASTS} />
    </>
  );
}
