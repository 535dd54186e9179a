import type { Advice, AdviceEntry, AssetFigures } from '../../../../core/advice/index.ts';
import { getMeasure } from '../../../../core/trials/index.ts';
import { runPreparation } from '../../../state/run-preparation.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { toastUndo } from '../../parts/toast-undo.ts';

/** Changes by themselves: what each saves, and what it does to the cloth. */
export function AdviceList({ advice: { before, singles } }: { advice: Advice }) {
  const { advising } = useWorkbench();
  const editor = useDocument();
  const { isOld } = useStore(advising.store, (state) => state);
  if (!before || singles.length === 0) return null;
  const apply = async ({ changes }: AdviceEntry, text: string): Promise<void> => {
    const isDone = await runPreparation(() => advising.apply(text, changes));
    if (isDone) toastUndo(editor, text);
  };
  return (
    <table className="mt-2.5 w-full border-collapse text-xs" aria-label="Changes that save">
      <thead className="text-soft">
        <tr className="border-b border-line">
          <th className="py-0.5 text-left font-medium">Change</th>
          <th className="text-right font-medium">saves µs</th>
          <th className="text-right font-medium" title="Worst penetration, more or less">
            pen. mm
          </th>
          <th className="text-right font-medium" title="Worst stretch, more or less">
            stretch %
          </th>
          <td />
        </tr>
      </thead>
      <tbody>
        {singles.map((entry) => {
          const [text] = advising.tell(entry.changes);
          const broken = entry.breaks.map((key) => getMeasure(key).label).join(', ');
          return (
            <tr
              key={JSON.stringify(entry.changes)}
              className="border-b border-line align-top"
              data-breaks={broken}
            >
              <td className="py-1 pr-1">
                {text}
                {broken && <span className="block text-brick">▲ breaks the limit of {broken}</span>}
              </td>
              <td className="num py-1 text-right">{Math.round(1000 * entry.saves)}</td>
              <td className="num py-1 text-right">{tellDifference(before, entry.figures, 'penetration')}</td>
              <td className="num py-1 text-right">{tellDifference(before, entry.figures, 'stretch')}</td>
              <td className="py-0.5 pl-1.5 text-right">
                <button
                  type="button"
                  className="btn !px-1.5 !py-0"
                  title={isOld ? 'Measured before the last edit' : 'As one step that can be undone'}
                  onClick={() => void apply(entry, text!)}
                >
                  Apply
                </button>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function tellDifference(before: AssetFigures, after: AssetFigures, key: 'penetration' | 'stretch'): string {
  const { factor, digits } = getMeasure(key);
  const change = factor * ((after.worst[key] ?? 0) - (before.worst[key] ?? 0));
  const rounded = change.toFixed(digits);
  if (Number(rounded) === 0) return '0';
  return change > 0 ? `+${rounded}` : rounded.replace('-', '−');
}
