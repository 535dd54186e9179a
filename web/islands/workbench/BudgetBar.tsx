import { Popover } from 'radix-ui';
import { getScene } from '../../../core/document/index.ts';
import { useClipCost } from '../../state/clip-cost.ts';
import { useDocument } from '../../state/workbench.ts';
import { NumberRow } from '../parts/NumberRow.tsx';
import { CostFigures } from './budget/CostFigures.tsx';
import { CostSource } from './budget/CostSource.tsx';
import { COST_PARTS } from './budget/cost-parts.ts';
import { MeasuredHere } from './budget/MeasuredHere.tsx';

/** What a simulated frame costs against the budget, split by what spends it. A click opens the figures. */
export function BudgetBar() {
  const editor = useDocument();
  const cost = useClipCost();
  const { budgetMilliseconds: budget } = getScene(editor.document);
  const total = cost?.mean.total ?? 0;
  const scale = 100 / Math.max(budget, total);
  const isOver = total > budget;
  return (
    <div className="flex items-center justify-end">
      <Popover.Root>
        <Popover.Trigger
          className="flex items-center gap-3 rounded-md px-2 py-1 hover:bg-paper"
          aria-label="Budget"
          title="Cost of a simulated frame, on the mean of the clip"
        >
          <span className="relative flex h-2.5 w-28 overflow-hidden rounded-full bg-[#e5e0d2]" aria-hidden>
            {cost &&
              COST_PARTS.map(({ key, color }) => (
                <span key={key} style={{ width: `${cost.mean.parts[key] * scale}%`, background: color }} />
              ))}
            {isOver && (
              <span className="absolute inset-y-0 w-[2px] bg-brick" style={{ left: `${budget * scale}%` }} />
            )}
          </span>
          <span className="num" data-cost={cost ? total.toFixed(6) : undefined} data-cost-kind={cost?.kind}>
            {cost?.kind === 'live' && <span className="text-soft">about </span>}
            <b className={isOver ? 'text-brick' : ''}>{cost ? total.toFixed(2) : '–'}</b>
            <span className="text-soft"> / {budget.toFixed(2)} ms</span>
          </span>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="end"
            sideOffset={6}
            className="card z-50 max-h-[calc(100vh-70px)] w-[360px] overflow-y-auto bg-panel p-4 shadow-lg"
          >
            <CostFigures cost={cost} />
            <div className="mt-3 border-t border-line pt-2">
              <NumberRow
                label="Budget"
                value={budget}
                unit="ms"
                min={0.05}
                max={16}
                step={0.05}
                digits={2}
                defaultValue={12}
                isLogarithmic
                onChange={(budgetMilliseconds) =>
                  editor.updateScene('Set the budget', { budgetMilliseconds })
                }
              />
            </div>
            <CostSource />
            <MeasuredHere />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </div>
  );
}
