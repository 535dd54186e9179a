import { useBudget } from '../../../state/use-budget.ts';
import { useDocument } from '../../../state/workbench.ts';
import { NumberRow } from '../../parts/NumberRow.tsx';

/** What this character's cloth may cost; back at its default it follows the target profile. */
export function BudgetRow() {
  const editor = useDocument();
  const { budget, ofTarget } = useBudget();
  return (
    <NumberRow
      label="Budget"
      hint="For the cloth of this character; by itself as the target says"
      value={budget}
      unit="ms"
      min={0.05}
      max={16}
      typedMin={0.01}
      typedMax={1000}
      step={0.05}
      digits={2}
      defaultValue={ofTarget}
      isLogarithmic
      onChange={(value) =>
        editor.updateScene('Set the budget', { budgetMilliseconds: value === ofTarget ? null : value })
      }
    />
  );
}
