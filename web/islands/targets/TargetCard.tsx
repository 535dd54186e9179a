import { Download, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { writeTargetFile } from '../../../core/budget/index.ts';
import {
  findBudget,
  MACHINE_ID,
  TARGET_DEFAULTS,
  TARGET_RANGES,
  type TargetProfile,
} from '../../../core/cost/index.ts';
import { saveFile } from '../../state/save-file.ts';
import type { Targets } from '../../state/targets.ts';
import { NameEditor } from '../parts/NameEditor.tsx';
import { NumberRow } from '../parts/NumberRow.tsx';
import { GroupTable } from './GroupTable.tsx';
import { MeasureMachine } from './MeasureMachine.tsx';
import { SourceNote } from './SourceNote.tsx';
import { TimedTable } from './TimedTable.tsx';

export interface TargetCardProps {
  target: TargetProfile;
  targets: Targets;
}

/** One target: where its costs come from, what a frame of it has for cloth, and what can be done with it. */
export function TargetCard({ target, targets }: TargetCardProps) {
  const { id, name, costs, framesPerSecond, share, budgetMilliseconds, cores } = target;
  const isMachine = id === MACHINE_ID;
  const ofFrame = findBudget({ ...target, budgetMilliseconds: null });
  const edit = (change: Parameters<Targets['edit']>[1]): void => void targets.edit(id, change);
  return (
    <li className="card p-4" data-target={name}>
      <TargetHead target={target} targets={targets} />
      <p className="mt-0.5 text-xs text-soft">
        <SourceNote costs={costs} />
      </p>
      <div className="mt-2 grid grid-cols-2 gap-x-6">
        <div>
          <NumberRow
            label="Frame rate"
            hint="Frames a second that the game draws there"
            value={framesPerSecond}
            unit="fps"
            min={20}
            max={144}
            typedMin={TARGET_RANGES.framesPerSecond[0]}
            typedMax={TARGET_RANGES.framesPerSecond[1]}
            step={1}
            digits={0}
            defaultValue={TARGET_DEFAULTS.framesPerSecond}
            onChange={(value) => edit({ framesPerSecond: value })}
          />
          <NumberRow
            label="Share"
            hint="Of a frame, for the cloth of a character"
            value={100 * share}
            unit="%"
            min={1}
            max={50}
            typedMin={100 * TARGET_RANGES.share[0]}
            typedMax={100 * TARGET_RANGES.share[1]}
            step={0.5}
            digits={1}
            defaultValue={100 * TARGET_DEFAULTS.share}
            onChange={(value) => edit({ share: value / 100 })}
          />
          <NumberRow
            label="Cores"
            hint="That work on cloth at once: the characters of a crowd are shared among them"
            value={cores}
            unit=""
            min={1}
            max={16}
            typedMin={TARGET_RANGES.cores[0]}
            typedMax={TARGET_RANGES.cores[1]}
            step={1}
            digits={0}
            defaultValue={TARGET_DEFAULTS.cores}
            onChange={(value) => edit({ cores: Math.round(value) })}
          />
        </div>
        <div>
          <NumberRow
            label="Budget"
            hint="For the cloth of a character; by itself the share of the frame"
            value={budgetMilliseconds ?? ofFrame}
            unit="ms"
            min={0.05}
            max={16}
            typedMin={TARGET_RANGES.budgetMilliseconds[0]}
            typedMax={TARGET_RANGES.budgetMilliseconds[1]}
            step={0.05}
            digits={2}
            defaultValue={ofFrame}
            isLogarithmic
            onChange={(value) => edit({ budgetMilliseconds: value === ofFrame ? null : value })}
          />
          <p className="num text-xs text-soft">
            {budgetMilliseconds === null
              ? `${(100 * share).toFixed(1)} % of ${(1000 / framesPerSecond).toFixed(2)} ms`
              : 'typed, in place of the share of the frame'}
          </p>
        </div>
      </div>
      {isMachine && (
        <div className="mt-2">
          <MeasureMachine targets={targets} />
        </div>
      )}
      {costs.groups && costs.groups.length > 0 && (
        <details className="mt-2 text-xs">
          <summary className="cursor-pointer text-soft">What was fitted, and how well</summary>
          <div className="mt-2 grid grid-cols-2 items-start gap-6">
            <GroupTable groups={costs.groups} />
            <TimedTable timed={costs.timed ?? []} />
          </div>
        </details>
      )}
    </li>
  );
}

function TargetHead({ target, targets }: TargetCardProps) {
  const { id, name } = target;
  const [isNaming, setNaming] = useState(false);
  const [isAsking, setAsking] = useState(false);
  const isMachine = id === MACHINE_ID;
  const send = (): void => {
    const text = JSON.stringify(writeTargetFile(target), null, 2);
    saveFile(new TextEncoder().encode(text), `${name} target.json`, 'application/json');
  };
  const remove = async (): Promise<void> => {
    const projects = await targets.remove(id);
    if (projects === null) return;
    const users = projects === 1 ? '1 project goes' : `${projects} projects go`;
    toast(`Removed ${name}.${projects > 0 ? ` ${users} by this machine again.` : ''}`);
  };
  return (
    <div className="flex items-center justify-between gap-3">
      {isNaming ? (
        <NameEditor
          name={name}
          label="Name of the target profile"
          onDone={(typed) => {
            setNaming(false);
            if (typed) void targets.edit(id, { name: typed });
          }}
        />
      ) : (
        <h2 className="truncate font-semibold">{name}</h2>
      )}
      <span className="flex gap-2 whitespace-nowrap text-xs">
        {!isMachine && (
          <button type="button" className="underline" onClick={() => setNaming(true)}>
            Rename
          </button>
        )}
        <button
          type="button"
          className="btn !py-0.5"
          title="As JSON, for another installation"
          onClick={send}
        >
          <Download size={13} /> Export
        </button>
        {!isMachine && (
          <button
            type="button"
            className={`btn !py-0.5 ${isAsking ? '!border-brick text-brick' : ''}`}
            onBlur={() => setAsking(false)}
            onClick={() => (isAsking ? void remove() : setAsking(true))}
          >
            <Trash2 size={13} /> {isAsking ? 'Remove it?' : 'Remove'}
          </button>
        )}
      </span>
    </div>
  );
}
