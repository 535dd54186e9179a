import { useState } from 'react';
import type { GarmentRecord } from '../../../../../core/document/index.ts';
import { describeVariable, VARIABLE_KEYS, type VariableKey } from '../../../../../core/search/index.ts';
import { type SearchChoice, suggestBounds } from '../../../../state/search-work.ts';
import { useStore } from '../../../../state/store.ts';
import { isOpen, tellLeft } from '../../../../state/task-watch.ts';
import { useBudget } from '../../../../state/use-budget.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { LEAST_CANDIDATES, MOST_CANDIDATES } from '../../../../wire/trials.ts';
import { NumberField } from '../../../parts/NumberField.tsx';
import { NumberRow } from '../../../parts/NumberRow.tsx';
import { TaskProgress } from '../../../parts/TaskProgress.tsx';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';
import { FoundSettings } from './FoundSettings.tsx';
import { SearchLimits } from './SearchLimits.tsx';

/** Numbers that most often decide. */
const USUAL: readonly VariableKey[] = ['thickness', 'damping', 'bendStiffness', 'margin'];

/** Chooses what may move and within what, orders a search, and shows what it finds. */
export function SearchCard({ garment }: { garment: GarmentRecord }) {
  const { search, trials, version } = useWorkbench();
  const editor = useDocument();
  const { budget } = useBudget();
  const { failure, found } = useStore(search.store, (state) => state);
  useStore(trials.watch.store, (state) => state.tasks);
  const { clips } = editor.character;
  const [choice, setChoice] = useState<SearchChoice>(() => ({
    variables: USUAL.map((key) => suggestBounds(editor, garment, key)),
    clips: clips.map((_, clip) => clip),
    runs: 200,
    limits: {},
    budget: null,
  }));
  const change = (part: Partial<SearchChoice>): void => setChoice({ ...choice, ...part });
  const { task } = search;
  const running = task && isOpen(task) ? task : null;
  const isOfThis = found?.request.garmentId === garment.id;
  return (
    <section className="card mt-2 p-2.5" aria-label="Search">
      <p className="text-xs text-soft">
        Tries numbers of {garment.name} on the clips, and goes where the limits are kept best. Nothing changes
        until you take a result.
      </p>
      {running && (
        <TaskProgress
          label="Search"
          task={`${running.partsDone} of ${running.parts} tried`}
          share={running.partsDone / running.parts}
          secondsLeft={tellLeft(running)}
          onStop={() => void search.stop()}
        />
      )}
      {found && isOfThis && found.results.length > 0 && <FoundSettings found={found} />}
      {!running && (
        <>
          <Variables garment={garment} choice={choice} onChange={change} />
          <div className="mt-1.5 flex flex-wrap gap-1" role="group" aria-label="Clips of the search">
            {clips.map(({ name }, clip) => (
              <ToggleChip
                key={name}
                label={name}
                className="chip !px-2 !py-0 text-xs"
                isOn={choice.clips.includes(clip)}
                onToggle={(isOn) =>
                  change({
                    clips: clips
                      .map((_, each) => each)
                      .filter((each) => (each === clip ? isOn : choice.clips.includes(each))),
                  })
                }
              />
            ))}
          </div>
          <SearchLimits garment={garment} limits={choice.limits} onChange={(limits) => change({ limits })} />
          <NumberRow
            label="Candidates"
            hint="How many are tried"
            value={choice.runs}
            unit=""
            min={LEAST_CANDIDATES}
            max={MOST_CANDIDATES}
            step={10}
            digits={0}
            defaultValue={200}
            onChange={(runs) => change({ runs: Math.round(runs) })}
          />
          <div className="mt-1 flex items-center gap-2">
            <ToggleChip
              label="Within the budget"
              hint="What costs more than the budget is worse"
              className="chip !py-0 text-xs"
              isOn={choice.budget !== null}
              onToggle={(isOn) => change({ budget: isOn ? budget : null })}
            />
            <span className="flex-1" />
            <button
              type="button"
              className="btn btn-main"
              disabled={choice.variables.length === 0 || choice.clips.length === 0 || version !== null}
              onClick={() => void search.order(garment, choice)}
            >
              Search
            </button>
          </div>
        </>
      )}
      {failure && (
        <p role="alert" className="mt-1.5 text-brick">
          {failure}
        </p>
      )}
      {task?.state === 'failed' && <p className="mt-1.5 text-brick">The search failed: {task.error}</p>}
    </section>
  );
}

interface VariablesProps {
  garment: GarmentRecord;
  choice: SearchChoice;
  onChange(part: Partial<SearchChoice>): void;
}

/** What may move, from where to where; any other number is added from a list. */
function Variables({ garment, choice: { variables }, onChange }: VariablesProps) {
  const editor = useDocument();
  const put = (index: number, part: { low?: number; high?: number }): void =>
    onChange({ variables: variables.map((each, v) => (v === index ? { ...each, ...part } : each)) });
  const others = VARIABLE_KEYS.filter((key) => !variables.some((each) => each.key === key));
  return (
    <div className="mt-1.5 flex flex-col gap-1">
      {variables.map(({ key, low, high }, index) => {
        const { label, unit, factor, digits, range, effect } = describeVariable(key);
        const keep = (value: number): number => Math.min(range[1], Math.max(range[0], value / factor));
        return (
          <div
            key={key}
            className="grid grid-cols-[1fr_56px_80px_12px] items-center gap-1 text-xs leading-tight"
          >
            <span title={effect}>{label}</span>
            <NumberField
              label={`${label} from`}
              value={low * factor}
              unit=""
              digits={digits}
              onCommit={(value) => put(index, { low: Math.min(keep(value), high) })}
            />
            <NumberField
              label={`${label} to`}
              value={high * factor}
              unit={unit}
              digits={digits}
              onCommit={(value) => put(index, { high: Math.max(keep(value), low) })}
            />
            <button
              type="button"
              className="text-soft hover:text-ink"
              aria-label={`Leave ${label} as it is`}
              title="Leave it as it is"
              onClick={() => onChange({ variables: variables.filter((each) => each.key !== key) })}
            >
              ×
            </button>
          </div>
        );
      })}
      <select
        className="field !py-0.5 text-xs"
        aria-label="Another number that may move"
        value=""
        onChange={(event) =>
          onChange({
            variables: [...variables, suggestBounds(editor, garment, event.target.value as VariableKey)],
          })
        }
      >
        <option value="">Let another number move…</option>
        {others.map((key) => (
          <option key={key} value={key}>
            {describeVariable(key).label}
          </option>
        ))}
      </select>
    </div>
  );
}
