import { Popover } from 'radix-ui';
import { useClipCost } from '../../state/clip-cost.ts';
import { useBudget } from '../../state/use-budget.ts';
import { AdviceCard } from './budget/AdviceCard.tsx';
import { BudgetRow } from './budget/BudgetRow.tsx';
import { CostFigures } from './budget/CostFigures.tsx';
import { CostSource } from './budget/CostSource.tsx';
import { COST_PARTS } from './budget/cost-parts.ts';
import { LevelsLink } from './budget/LevelsLink.tsx';
import { MeasuredHere } from './budget/MeasuredHere.tsx';

/** What a frame costs on the target against the budget, split by what spends it. A click opens the figures. */
export function BudgetBar() {
  const cost = useClipCost();
  const { budget } = useBudget();
  const { total, sum } = cost?.mean ?? { total: 0, sum: 0 };
  const scale = 100 / Math.max(budget, total);
  // What several cores do at once is told by its share of what takes the time.
  const partScale = sum > 0 ? (scale * total) / sum : 0;
  const isOver = total > budget;
  return (
    <div className="flex items-center justify-end">
      <Popover.Root>
        <Popover.Trigger
          className="flex items-center gap-3 rounded-md px-2 py-1 hover:bg-paper"
          aria-label="Budget"
          title="Cost of a frame on the target, on the mean of the clip"
        >
          <span
            className="relative flex h-2.5 w-28 overflow-hidden rounded-full bg-track max-[1129px]:w-14"
            aria-hidden
          >
            {cost &&
              COST_PARTS.map(({ key, color }) => (
                <span
                  key={key}
                  style={{ width: `${cost.mean.parts[key] * partScale}%`, background: color }}
                />
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
            className="card z-50 max-h-[calc(100vh-70px)] grid w-[min(760px,calc(100vw-32px))] grid-cols-[340px_1fr] items-start gap-5 overflow-y-auto bg-panel p-4 shadow-lg"
          >
            <div>
              <CostFigures cost={cost} />
              <div className="mt-3 border-t border-line pt-2">
                <BudgetRow />
              </div>
              <CostSource />
              <LevelsLink />
              <MeasuredHere />
            </div>
            <AdviceCard />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </div>
  );
}
