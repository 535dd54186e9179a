import { Plus, X } from 'lucide-react';
import { listMorphNames } from '../../../../../core/rig/index.ts';
import {
  TRIAL_RATES,
  TRIAL_WINDS,
  type TrialRate,
  type TrialWind,
} from '../../../../../core/trials/index.ts';
import { useStore } from '../../../../state/store.ts';
import type { TrialChoice } from '../../../../state/trial-choice.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { NumberField } from '../../../parts/NumberField.tsx';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';

const WINDS: Readonly<Record<TrialWind, string>> = { asSet: 'as set', still: 'still', strong: 'strong' };

/** What the next trial plays: clips and blends, and one thing different at a time. */
export function PlanOptions() {
  const { trials } = useWorkbench();
  const { character } = useDocument();
  const choice = useStore(trials.store, (state) => state.choice);
  const morphs = listMorphNames(character);
  return (
    <div className="mt-2 flex flex-col gap-2 rounded-md border border-line bg-surface p-2.5">
      <Ticks
        label="Clips"
        options={character.clips.map(({ name }, clip) => ({
          value: clip,
          label: name || `clip ${clip + 1}`,
        }))}
        chosen={choice.clips}
        onChange={(clips) => trials.choose({ clips })}
      />
      <Blends choice={choice} />
      <Ticks
        label="Wind"
        options={TRIAL_WINDS.map((value) => ({ value, label: WINDS[value] }))}
        chosen={choice.winds}
        onChange={(winds) => trials.choose({ winds })}
      />
      <Ticks
        label="Frames a second"
        options={TRIAL_RATES.map((value: TrialRate) => ({ value, label: String(value) }))}
        chosen={choice.rates}
        onChange={(rates) => trials.choose({ rates })}
      />
      {morphs.length > 0 && (
        <Ticks
          label="Body shapes"
          options={morphs.map((value) => ({ value, label: value }))}
          chosen={choice.shapes}
          onChange={(shapes) => trials.choose({ shapes })}
        />
      )}
      <p className="text-xs text-soft">
        Each clip and blend is played as everything is set, at 60 frames a second, and then with one thing
        different at a time.
      </p>
    </div>
  );
}

interface TicksProps<T extends string | number> {
  label: string;
  options: readonly { value: T; label: string }[];
  chosen: readonly T[];
  onChange(chosen: T[]): void;
}

function Ticks<T extends string | number>({ label, options, chosen, onChange }: TicksProps<T>) {
  const isAll = options.every(({ value }) => chosen.includes(value));
  return (
    <fieldset className="flex items-baseline gap-2">
      <legend className="float-left w-[104px] shrink-0 text-soft">{label}</legend>
      <span className="flex min-w-0 flex-1 flex-wrap gap-1">
        {options.map(({ value, label: name }) => (
          <ToggleChip
            key={value}
            label={name}
            className="chip !px-2 !py-0 text-xs"
            isOn={chosen.includes(value)}
            onToggle={(isOn) =>
              onChange(
                options
                  .map((option) => option.value)
                  .filter((each) => (each === value ? isOn : chosen.includes(each))),
              )
            }
          />
        ))}
      </span>
      {options.length > 3 && (
        <button
          type="button"
          className="btn btn-quiet !px-1 !py-0 text-xs"
          onClick={() => onChange(isAll ? [] : options.map(({ value }) => value))}
        >
          {isAll ? 'None' : 'All'}
        </button>
      )}
    </fieldset>
  );
}

function Blends({ choice: { blends } }: { choice: TrialChoice }) {
  const { trials } = useWorkbench();
  const { character } = useDocument();
  if (character.clips.length < 2) return null;
  const put = (index: number, change: Partial<TrialChoice['blends'][number]>): void =>
    trials.choose({ blends: blends.map((each, k) => (k === index ? { ...each, ...change } : each)) });
  const add = (): void =>
    trials.choose({
      blends: [
        ...blends,
        { kind: 'blend', from: 0, to: 1, at: Math.min(0.5, character.clips[0]!.duration), seconds: 0.25 },
      ],
    });
  const names = character.clips.map(({ name }, clip) => ({ clip, name: name || `clip ${clip + 1}` }));
  const clipOptions = names.map(({ clip, name }) => (
    <option key={clip} value={clip}>
      {name}
    </option>
  ));
  return (
    <div className="flex items-baseline gap-2">
      <span className="w-[104px] shrink-0 text-soft">Blends</span>
      <div className="flex min-w-0 flex-1 flex-col gap-1">
        {blends.map(({ from, to, at, seconds }, index) => (
          // Blends have no names; their order is theirs.
          // biome-ignore lint/suspicious/noArrayIndexKey: rows are edited in place.
          <div key={index} className="flex items-center gap-1 text-xs">
            <select
              className="field !w-24 !px-1 !py-0.5"
              aria-label="From"
              value={from}
              onChange={(event) => {
                const clip = Number(event.target.value);
                put(index, { from: clip, at: Math.min(at, character.clips[clip]!.duration) });
              }}
            >
              {clipOptions}
            </select>
            to
            <select
              className="field !w-24 !px-1 !py-0.5"
              aria-label="To"
              value={to}
              onChange={(event) => put(index, { to: Number(event.target.value) })}
            >
              {clipOptions}
            </select>
            at
            <span className="w-16">
              <NumberField
                label="At second"
                value={at}
                unit="s"
                digits={2}
                step={0.05}
                onCommit={(value) =>
                  put(index, { at: Math.min(Math.max(0, value), character.clips[from]!.duration) })
                }
              />
            </span>
            in
            <span className="w-16">
              <NumberField
                label="Length of the blend"
                value={seconds}
                unit="s"
                digits={2}
                step={0.05}
                onCommit={(value) => put(index, { seconds: Math.min(Math.max(0.01, value), 10) })}
              />
            </span>
            <button
              type="button"
              className="btn btn-quiet !px-1 !py-0"
              aria-label="Remove this blend"
              title="Remove this blend"
              onClick={() => trials.choose({ blends: blends.filter((_, k) => k !== index) })}
            >
              <X size={13} />
            </button>
          </div>
        ))}
        <button type="button" className="btn btn-quiet !justify-start !px-0 !py-0 text-xs" onClick={add}>
          <Plus size={13} /> Add a blend between two clips
        </button>
      </div>
    </div>
  );
}
