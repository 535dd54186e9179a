import { ArrowRight } from 'lucide-react';
import { findNextStep, type NextStep } from '../../state/next-step.ts';
import { useStore } from '../../state/store.ts';
import { useDocument, useWorkbench } from '../../state/workbench.ts';

/** What is missing next, as it is now; null when nothing is, and for an earlier version. */
function useNextStep(): NextStep | null {
  const { session, trials, shipped, version } = useWorkbench();
  const { document, character } = useDocument();
  const garmentId = useStore(session, (state) => state.garmentId);
  const { trials: list, isListed } = useStore(trials.store, (state) => state);
  const { isShipped } = useStore(shipped, (state) => state);
  if (version || !isListed) return null;
  return findNextStep({
    document,
    garmentId,
    newest: list[0] ?? null,
    isShipped,
    hasClips: character.clips.length > 0,
  });
}

/** In the list of garments: the next step, one click away. */
export function NextHint() {
  const { session } = useWorkbench();
  const stage = useStore(session, (state) => state.stage);
  const step = useNextStep();
  if (!step || step.stage === stage) return null;
  return (
    <button
      type="button"
      className="flex w-full shrink-0 items-center gap-2 rounded-md bg-teal-wash px-2.5 py-1.5 text-left hover:outline-1 hover:outline-teal"
      title={step.why}
      onClick={() => session.set({ stage: step.stage })}
    >
      <span className="min-w-0 flex-1 leading-tight">
        <span className="heading">Next</span> <span className="font-semibold text-teal">{step.title}</span>
      </span>
      <ArrowRight size={15} className="shrink-0 text-teal" />
    </button>
  );
}

/** In the stage where the next step is done: what it is good for. */
export function NextWhy() {
  const { session } = useWorkbench();
  const stage = useStore(session, (state) => state.stage);
  const step = useNextStep();
  if (step?.stage !== stage) return null;
  return (
    <p className="mb-3 rounded-md bg-teal-wash px-2.5 py-1.5" role="note">
      <b className="text-teal">{step.title}.</b> {step.why}
    </p>
  );
}
