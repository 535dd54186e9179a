import { useStore } from '../../../state/store.ts';
import type { WeightWork } from '../../../state/weight-work.ts';
import { getJointColor, WEIGHT_BAR } from '../../../viewport/weight-colors.ts';
import { Choice } from '../../parts/Choice.tsx';
import { PercentRow } from '../../parts/PercentRow.tsx';
import { SizeRow } from '../../parts/SizeRow.tsx';
import { EditsDone } from './EditsDone.tsx';
import { JointShareRow } from './JointShareRow.tsx';
import { JointTurns } from './JointTurns.tsx';
import { WeightTable } from './WeightTable.tsx';

export interface WeightPaintCardProps {
  work: WeightWork;
}

const TOOLS = [
  { tool: 'paint', label: 'Paint', hint: 'Leads the weight of the chosen joint to a value' },
  { tool: 'smooth', label: 'Smooth', hint: 'Evens the weight of the chosen joint out' },
  { tool: 'select', label: 'Select', hint: 'Vertices whose numbers are shown; with Shift, more of them' },
] as const;

/** Skin weights of single joints, painted on the garment, with the joint that is tried. */
export function WeightPaintCard({ work }: WeightPaintCardProps) {
  const state = useStore(work.store, (settings) => settings);
  const set = (update: Partial<typeof state>): void => work.store.set(update);
  return (
    <div>
      <Choice
        label="Tool"
        value={state.tool}
        options={TOOLS.map(({ tool, ...rest }) => ({ value: tool, ...rest }))}
        onChange={(tool) => set({ tool })}
      />
      {state.tool !== 'select' && <BrushRows work={work} />}
      <div className="mt-1.5 flex items-center gap-1.5">
        <span className="text-soft">Colour</span>
        <Choice
          label="Colour"
          value={state.view}
          options={[
            { value: 'joint', label: 'One joint' },
            { value: 'leading', label: 'Leading joint' },
          ]}
          onChange={(view) => set({ view })}
        />
      </div>
      <JointList work={work} />
      {state.tool === 'select' && <WeightTable work={work} />}
      <JointTurns work={work} />
      <EditsDone work={work} />
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

/** The joints of the skin: those with weight first. One is chosen, any may be pinned. */
function JointList({ work }: WeightPaintCardProps) {
  const { joint, kept, view } = useStore(work.store, (settings) => settings);
  const shares = work.listShares();
  const known = new Set(shares.map((row) => row.joint));
  const others = work.jointNames
    .map((_, index) => ({ joint: index, share: 0 }))
    .filter((row) => !known.has(row.joint));
  const toggle = (index: number): void => {
    const next = new Set(kept);
    if (!next.delete(index)) next.add(index);
    work.store.set({ kept: next });
  };
  return (
    <ul className="mt-1.5 max-h-[150px] overflow-y-auto pr-1" aria-label="Joints">
      {[...shares, ...others].map(({ joint: index, share }) => (
        <JointShareRow
          key={work.jointNames[index]}
          name={work.jointNames[index]!}
          share={share}
          mostShare={shares[0]?.share ?? 1}
          color={view === 'leading' ? getJointColor(index) : WEIGHT_BAR}
          isKept={kept.has(index)}
          onToggleKept={() => toggle(index)}
          isChosen={index === joint}
          onChoose={() => work.store.set({ joint: index })}
        />
      ))}
    </ul>
  );
}
