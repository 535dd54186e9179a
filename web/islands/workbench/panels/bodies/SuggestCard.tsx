import { useState } from 'react';
import type { BodyRecord } from '../../../../../core/document/index.ts';
import type { FoundSet, SuggestedKind } from '../../../../../core/suggest/index.ts';
import { runPreparation } from '../../../../state/run-preparation.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { CardHead } from '../../../parts/CardHead.tsx';
import { Choice } from '../../../parts/Choice.tsx';
import { SuggestIcon } from '../../../parts/icons/ToolIcons.tsx';
import { NumberRow } from '../../../parts/NumberRow.tsx';
import { TaskProgress } from '../../../parts/TaskProgress.tsx';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';
import { toastUndo } from '../../../parts/toast-undo.ts';
import { SuggestedSets } from './SuggestedSets.tsx';

const KINDS: readonly { kind: SuggestedKind; label: string; hint: string }[] = [
  { kind: 'sphere', label: 'Spheres', hint: 'For what is hardly longer than wide' },
  { kind: 'capsule', label: 'Capsules', hint: 'With one radius' },
  { kind: 'taperedCapsule', label: 'Tapered capsules', hint: 'With a radius at each end' },
];

type Keep = 'none' | 'selected' | 'all';

export interface SuggestCardProps {
  /** Makes a set when there is none. */
  ensureSet(): BodyRecord['bodySetId'];
  bodies: readonly BodyRecord[];
  selected: readonly BodyRecord[];
  onClose(): void;
}

/** Asks for a set by number or goal, shows how far it is, and the sets that came of it to choose from. */
export function SuggestCard({ ensureSet, bodies, selected, onClose }: SuggestCardProps) {
  const { bodySuggesting, version } = useWorkbench();
  const editor = useDocument();
  const { task, share, secondsLeft, sets, failure } = useStore(bodySuggesting.store, (state) => state);
  const { clips } = editor.character;
  const [count, setCount] = useState(12);
  const [stops, setStops] = useState(false);
  const [penetration, setPenetration] = useState(3);
  const [showThrough, setShowThrough] = useState(1);
  const [margin, setMargin] = useState(6);
  const [keeps, setKeeps] = useState<Keep>('none');
  const [kinds, setKinds] = useState<readonly SuggestedKind[]>(['taperedCapsule']);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [mirrors, setMirrors] = useState(true);
  const chosen = [...clips.keys()].filter((clip) => !left.has(clips[clip]!.name));
  const kept = keeps === 'all' ? bodies : keeps === 'selected' ? selected : [];
  const start = (): void => {
    void bodySuggesting.start({
      bodySetId: ensureSet(),
      clips: chosen,
      goal: {
        bodies: count,
        penetration: stops ? penetration / 1000 : 0,
        showThrough: stops ? showThrough / 1e4 : 0,
      },
      kinds,
      mirrors,
      margin: margin / 1000,
      keptIds: kept.map(({ id }) => id),
    });
  };
  const take = async (set: FoundSet): Promise<void> => {
    const isDone = await runPreparation(() => bodySuggesting.take(set));
    if (isDone) toastUndo(editor, `The set has ${set.bodies.length} bodies now`);
  };
  return (
    <section className="card mt-3 p-3" aria-label="Suggest bodies">
      <CardHead title="Suggest bodies" closeLabel="Close the suggestion" onClose={onClose} />
      <p className="mt-0.5 text-xs text-soft">
        Fits bodies to the skin, and adds one after another where the cloth of this set still goes through on
        the clips. Nothing changes until you use a set.
      </p>
      {task === null && (
        <>
          <NumberRow
            label="Bodies"
            hint="At most so many, those that you keep included"
            value={count}
            unit=""
            min={1}
            max={32}
            step={1}
            digits={0}
            defaultValue={12}
            onChange={(value) => setCount(Math.round(value))}
          />
          <NumberRow
            label="Margin"
            hint="Kept around each body"
            value={margin}
            unit="mm"
            min={0}
            max={20}
            step={0.5}
            digits={1}
            defaultValue={6}
            onChange={setMargin}
          />
          <div className="mt-1 flex flex-wrap gap-1.5">
            <ToggleChip
              label="Stop when good enough"
              hint="As few bodies as reach the limits below"
              isOn={stops}
              onToggle={setStops}
            />
            <ToggleChip
              label="Both sides alike"
              hint="Bodies of one side are the mirror of the other's, by the names of their joints"
              isOn={mirrors}
              onToggle={setMirrors}
            />
          </div>
          {stops && (
            <>
              <NumberRow
                label="Penetration"
                hint="Deepest place of cloth in the skin, on every clip"
                value={penetration}
                unit="mm"
                min={0.5}
                max={20}
                step={0.5}
                digits={1}
                onChange={setPenetration}
              />
              <NumberRow
                label="Show-through"
                hint="Mean over the frames, on every clip"
                value={showThrough}
                unit="cm²"
                min={0.1}
                max={50}
                step={0.1}
                digits={1}
                isLogarithmic
                onChange={setShowThrough}
              />
            </>
          )}
          <Chips
            label="Clips"
            options={clips.map(({ name }) => ({ id: name, label: name, isOn: !left.has(name) }))}
            onToggle={(name, isOn) => {
              const next = new Set(left);
              if (isOn) next.delete(name);
              else next.add(name);
              setLeft(next);
            }}
          />
          <Chips
            label="Shapes"
            options={KINDS.map(({ kind, label, hint }) => ({
              id: kind,
              label,
              hint,
              isOn: kinds.includes(kind),
            }))}
            onToggle={(kind, isOn) =>
              setKinds(isOn ? [...kinds, kind as SuggestedKind] : kinds.filter((other) => other !== kind))
            }
          />
          {bodies.length > 0 && (
            <div className="mt-2">
              <div className="mb-1 text-xs text-soft">Keep as they are</div>
              <Choice<Keep>
                label="Keep"
                look="cells"
                value={keeps}
                options={[
                  { value: 'none', label: 'None' },
                  { value: 'selected', label: 'Selected', hint: `${selected.length} bodies` },
                  { value: 'all', label: 'All', hint: `${bodies.length} bodies` },
                ]}
                onChange={setKeeps}
              />
            </div>
          )}
          <button
            type="button"
            className={`btn mt-2.5 w-full ${sets.length === 0 ? 'btn-main' : ''}`}
            disabled={version !== null || chosen.length === 0 || kinds.length === 0 || kept.length >= count}
            title={tellMissing(chosen.length, kinds.length, kept.length >= count)}
            onClick={start}
          >
            <SuggestIcon /> {sets.length === 0 ? 'Suggest' : 'Suggest again'}
          </button>
        </>
      )}
      {task !== null && (
        <TaskProgress
          label="Suggesting"
          task={task}
          share={share}
          secondsLeft={secondsLeft}
          onStop={() => bodySuggesting.cancel()}
        />
      )}
      {failure && (
        <p role="alert" className="mt-1.5 text-brick">
          {failure}
        </p>
      )}
      {sets.length > 0 && <SuggestedSets sets={sets} onTake={(set) => void take(set)} />}
    </section>
  );
}

function tellMissing(clips: number, kinds: number, isFull: boolean): string {
  if (clips === 0) return 'Choose at least one clip';
  if (kinds === 0) return 'Choose at least one shape';
  return isFull
    ? 'As many bodies are kept as are asked for'
    : 'Simulates the clips with more and more bodies';
}

interface ChipsProps {
  label: string;
  options: readonly { id: string; label: string; hint?: string; isOn: boolean }[];
  onToggle(id: string, isOn: boolean): void;
}

function Chips({ label, options, onToggle }: ChipsProps) {
  return (
    <div className="mt-2">
      <div className="mb-1 text-xs text-soft">{label}</div>
      <div className="flex flex-wrap gap-1.5">
        {options.map(({ id, label: text, hint, isOn }) => (
          <ToggleChip key={id} label={text} hint={hint} isOn={isOn} onToggle={(next) => onToggle(id, next)} />
        ))}
      </div>
    </div>
  );
}
