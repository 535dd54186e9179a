import { X } from 'lucide-react';
import { listSteps } from '../../../../core/document/index.ts';
import { describeAct } from '../../../../core/steps/index.ts';
import { runPreparation } from '../../../state/run-preparation.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';

/** The steps that are replayed on the source, in their order; any can be taken out. */
export function StepList() {
  const { preparing } = useWorkbench();
  const editor = useDocument();
  const { problems, faults } = useStore(preparing.client.store, (state) => state);
  const steps = listSteps(editor.document);
  if (steps.length === 0) return <p className="text-soft">None yet. The file itself is never changed.</p>;
  return (
    <ol className="flex flex-col" aria-label="Preparation">
      {steps.map((step, index) => {
        const problem = problems.find(({ stepId }) => stepId === step.id);
        const told = faults.find(({ stepId }) => stepId === step.id);
        return (
          <li key={step.id} className="flex items-start gap-1.5 border-b border-line py-1">
            <span className="num w-4 shrink-0 text-xs leading-5 text-soft">{index + 1}</span>
            <span className="min-w-0 flex-1">
              {describeAct(step.act)}
              <span className="block truncate text-xs text-soft">{step.sectionName}</span>
              {told?.sentences.map((sentence) => (
                <span key={sentence} role="alert" className="block text-xs text-brick">
                  {sentence}
                </span>
              ))}
              {problem && <span className="block text-xs text-brick">Left out: {problem.reason}.</span>}
            </span>
            <button
              type="button"
              className="btn btn-quiet !px-1"
              aria-label={`Take out step ${index + 1}: ${describeAct(step.act)}`}
              title="Take this step out"
              onClick={() => void runPreparation(() => preparing.removeStep(step))}
            >
              <X size={13} />
            </button>
          </li>
        );
      })}
    </ol>
  );
}
