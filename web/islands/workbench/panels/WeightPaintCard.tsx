import { Lock, LockOpen } from 'lucide-react';
import { useStore } from '../../../state/store.ts';
import type { WeightWork } from '../../../state/weight-work.ts';
import { getJointColor } from '../../../viewport/weight-colors.ts';
import { PercentRow } from '../../parts/PercentRow.tsx';
import { SizeRow } from '../../parts/SizeRow.tsx';
import { ToolChip } from '../../parts/ToolChip.tsx';
import { HandworkDone } from './HandworkDone.tsx';
import { JointTurns } from './JointTurns.tsx';
import { WeightTable } from './WeightTable.tsx';

export interface WeightPaintCardProps {
  work: WeightWork;
}

const TOOLS = [
  { tool: 'paint', label: 'Paint', hint: 'Leads the weight of the chosen joint to a value' },
  { tool: 'smooth', label: 'Smooth', hint: 'Evens the weight of the chosen joint out' },
  { tool: 'select', label: 'Select', hint: 'Points whose numbers are shown; with shift, more of them' },
] as const;

/** Skin weights of single joints, painted on the garment, with the joint that is tried. */
export function WeightPaintCard({ work }: WeightPaintCardProps) {
  const state = useStore(work.store, (settings) => settings);
  const set = (update: Partial<typeof state>): void => work.store.set(update);
  return (
    <div>
      <div className="flex flex-wrap gap-1.5">
        {TOOLS.map(({ tool, label, hint }) => (
          <ToolChip
            key={tool}
            label={label}
            hint={hint}
            isOn={state.tool === tool}
            onChoose={() => set({ tool })}
          />
        ))}
      </div>
      {state.tool !== 'select' && <BrushRows work={work} />}
      <div className="mt-1.5 flex items-center gap-1.5">
        <span className="text-soft">Colour</span>
        <ToolChip label="One joint" isOn={state.view === 'joint'} onChoose={() => set({ view: 'joint' })} />
        <ToolChip
          label="Leading joint"
          isOn={state.view === 'leading'}
          onChoose={() => set({ view: 'leading' })}
        />
      </div>
      <JointList work={work} />
      {state.tool === 'select' && <WeightTable work={work} />}
      <JointTurns work={work} />
      <HandworkDone work={work} />
    </div>
  );
}

function BrushRows({ work }: WeightPaintCardProps) {
  const { value, radius, strength, tool } = useStore(work.store, (settings) => settings);
  return (
    <div className="mt-1">
      {tool === 'paint' && (
        <PercentRow
          label="Weight"
          value={value}
          least={0}
          onChange={(next) => work.store.set({ value: next })}
        />
      )}
      <SizeRow label="Brush" value={radius} onChange={(next) => work.store.set({ radius: next })} />
      <PercentRow label="Strength" value={strength} onChange={(next) => work.store.set({ strength: next })} />
    </div>
  );
}

/** The joints of the skin: those with weight first. One is chosen, any may be locked. */
function JointList({ work }: WeightPaintCardProps) {
  const { joint, locked, view } = useStore(work.store, (settings) => settings);
  const shares = work.listShares();
  const known = new Set(shares.map((row) => row.joint));
  const others = work.jointNames
    .map((_, index) => ({ joint: index, share: 0 }))
    .filter((row) => !known.has(row.joint));
  const toggleLock = (index: number): void => {
    const next = new Set(locked);
    if (!next.delete(index)) next.add(index);
    work.store.set({ locked: next });
  };
  return (
    <ul className="mt-1.5 max-h-[156px] overflow-y-auto" aria-label="Joints">
      {[...shares, ...others].map(({ joint: index, share }) => {
        const name = work.jointNames[index]!;
        const isLocked = locked.has(index);
        return (
          <li key={name} className="flex items-center gap-1.5">
            {view === 'leading' && (
              <span
                className="size-[10px] shrink-0 rounded-full"
                style={{ background: getJointColor(index) }}
                aria-hidden
              />
            )}
            <button
              type="button"
              className={`min-w-0 flex-1 truncate rounded px-1 py-0.5 text-left ${index === joint ? 'bg-teal font-semibold text-white' : ''}`}
              aria-pressed={index === joint}
              onClick={() => work.store.set({ joint: index })}
            >
              {name}
            </button>
            <span className="num text-xs text-soft">{(100 * share).toFixed(1)} %</span>
            <button
              type="button"
              className="btn btn-quiet !px-1 !py-0"
              aria-pressed={isLocked}
              aria-label={`Lock ${name}`}
              title={isLocked ? 'Locked: keeps its weight' : 'Keep its weight'}
              onClick={() => toggleLock(index)}
            >
              {isLocked ? <Lock size={12} className="text-teal" /> : <LockOpen size={12} />}
            </button>
          </li>
        );
      })}
    </ul>
  );
}
