import type { Advice, AdviceEntry } from '../../../../core/advice/index.ts';
import { getMeasure } from '../../../../core/trials/index.ts';
import { runPreparation } from '../../../state/run-preparation.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { toastUndo } from '../../parts/toast-undo.ts';

export interface AdviceBestProps {
  advice: Advice;
  isRunning: boolean;
}

const MEASURES_TOLD = ['penetration', 'stretch', 'jitter'] as const;

/** The combination that gets under the budget, before and after; applied as one step. */
export function AdviceBest({ advice: { before, best }, isRunning }: AdviceBestProps) {
  const { advising } = useWorkbench();
  const editor = useDocument();
  const { budget } = useStore(advising.store, (state) => state);
  if (!before) return null;
  if (before.cost <= budget)
    return (
      <p className="mt-1 text-xs text-moss">
        Within the budget of <span className="num">{budget.toFixed(2)}</span> ms already.
      </p>
    );
  if (isRunning) return null;
  if (!best)
    return <p className="mt-1 text-xs text-brick">Nothing was found that saves without breaking a limit.</p>;
  const isUnder = best.figures.cost <= budget;
  const apply = async ({ changes }: AdviceEntry): Promise<void> => {
    const isDone = await runPreparation(() => advising.apply('Get under budget', changes));
    if (isDone) toastUndo(editor, `${changes.length} ${changes.length === 1 ? 'change' : 'changes'} applied`);
  };
  return (
    <div
      className="mt-2 rounded-md border border-line bg-surface p-2.5 text-xs"
      data-advice-best={isUnder ? 'under' : 'over'}
    >
      <ul className="list-disc pl-4">
        {advising.tell(best.changes).map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
      <table className="mt-1.5 w-full">
        <thead className="text-soft">
          <tr>
            <td />
            <th className="text-right font-medium">before</th>
            <th className="text-right font-medium">after</th>
          </tr>
        </thead>
        <tbody>
          <Row label="cost" before={before.cost} after={best.figures.cost} digits={2} unit="ms" />
          <Row
            label="show-through, mean"
            before={1e4 * before.showThrough}
            after={1e4 * best.figures.showThrough}
            digits={1}
            unit="cm²"
          />
          {MEASURES_TOLD.map((key) => {
            const { label, factor, digits, unit } = getMeasure(key);
            const [was, is] = [before.worst[key], best.figures.worst[key]];
            if (was === undefined || is === undefined) return null;
            return (
              <Row
                key={key}
                label={label}
                before={factor * was}
                after={factor * is}
                digits={digits}
                unit={unit}
              />
            );
          })}
        </tbody>
      </table>
      <button type="button" className="btn btn-main mt-2 w-full" onClick={() => void apply(best)}>
        {isUnder ? 'Get under budget' : 'Apply, still over the budget'}
      </button>
    </div>
  );
}

interface RowProps {
  label: string;
  before: number;
  after: number;
  digits: number;
  unit: string;
}

function Row({ label, before, after, digits, unit }: RowProps) {
  return (
    <tr>
      <td>{label}</td>
      <td className="num text-right">{before.toFixed(digits)}</td>
      <td className="num text-right whitespace-nowrap">
        {after.toFixed(digits)} {unit}
      </td>
    </tr>
  );
}
