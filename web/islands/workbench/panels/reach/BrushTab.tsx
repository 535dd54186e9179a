import { BRUSH_MODES, type BrushMode, computeFalloff, FALLOFFS } from '../../../../../core/reach/index.ts';
import type { Brush } from '../../../../state/session.ts';
import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { BrushModeIcon } from '../../../parts/icons/BrushModeIcon.tsx';
import { PercentRow } from '../../../parts/PercentRow.tsx';
import { SizeRow } from '../../../parts/SizeRow.tsx';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';
import { FactorRow } from './FactorRow.tsx';
import { ValueRow } from './ValueRow.tsx';
import { WholeMapCard } from './WholeMapCard.tsx';

const MODES: Readonly<Record<BrushMode, { label: string; hint: string }>> = {
  value: { label: 'Value', hint: 'Leads to the value' },
  raise: { label: 'Raise / lower', hint: 'Adds the value to what is there; a negative one lowers it' },
  multiply: { label: 'Multiply', hint: 'Multiplies what is there by a factor' },
  evenOut: { label: 'Even out', hint: 'Leads to the values around; hold S to do it with any brush' },
  contrast: { label: 'Contrast', hint: 'Leads away from the values around' },
  clear: { label: 'Clear', hint: 'Leads back to the default' },
};

/** The brush, and what is done to the whole map. */
export function BrushTab() {
  const workbench = useWorkbench();
  const brush = useStore(workbench.session, (session) => session.brush);
  const channel = useStore(workbench.session, (session) => session.channel);
  const sets = useStore(workbench.reach.store, (state) => state.sets);
  const set = (update: Partial<Brush>): void => workbench.session.set({ brush: { ...brush, ...update } });
  const picked = sets.mask?.reduce((sum, one) => sum + one, 0) ?? 0;
  return (
    <>
      <Choice
        label="Brush does"
        look="cells"
        columns={2}
        value={brush.mode}
        onChange={(mode) => set({ mode })}
        options={BRUSH_MODES.map((mode) => ({
          value: mode,
          hint: MODES[mode].hint,
          label: (
            <>
              <BrushModeIcon mode={mode} /> <span className="flex-1 text-left">{MODES[mode].label}</span>
            </>
          ),
        }))}
      />
      <div className="mt-1.5">
        {(brush.mode === 'value' || brush.mode === 'raise') && (
          <ValueRow
            channel={channel}
            label={brush.mode === 'raise' ? 'By' : 'Value'}
            value={brush.values[channel]}
            isSigned={brush.mode === 'raise'}
            hint="On the mesh: V takes the one under the cursor, - and = change it, and so does the wheel with Shift"
            onChange={(value) => set({ values: { ...brush.values, [channel]: value } })}
          />
        )}
        {brush.mode === 'multiply' && (
          <FactorRow value={brush.factor} onChange={(factor) => set({ factor })} />
        )}
        <SizeRow
          label="Radius"
          value={brush.radius}
          most={100}
          hint="On the mesh: square brackets change it, and so does the wheel with Alt"
          onChange={(radius) => set({ radius })}
        />
        <PercentRow label="Strength" value={brush.strength} onChange={(strength) => set({ strength })} />
      </div>
      <Falloffs brush={brush} onChange={(falloff) => set({ falloff })} />
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        <ToggleChip
          label="Visible side only"
          isOn={brush.visibleSide}
          hint="Leaves what faces away alone"
          onToggle={(visibleSide) => set({ visibleSide })}
        />
        <ToggleChip
          label="Along the surface"
          isOn={brush.followsSurface}
          hint="Distances run along the surface: a panel behind, or the other side of a fold, is left alone"
          onToggle={(followsSurface) => set({ followsSurface })}
        />
        <ToggleChip
          label="Mirror"
          isOn={brush.mirrors}
          hint="The same on the other side of the character, left for right"
          onToggle={(mirrors) => set({ mirrors })}
        />
      </div>
      {picked > 0 && (
        <p className="mt-1.5 flex items-center justify-between gap-2 text-xs">
          <span>
            Only on <b className="num">{picked.toLocaleString('en')}</b> picked vertices
          </span>
          <button
            type="button"
            className="font-semibold text-teal"
            onClick={() => workbench.reach.setPoints('mask', null)}
          >
            Clear selection
          </button>
        </p>
      )}
      <WholeMapCard />
    </>
  );
}

function Falloffs({ brush, onChange }: { brush: Brush; onChange(falloff: Brush['falloff']): void }) {
  return (
    <div className="mt-1 grid grid-cols-[84px_1fr] items-center gap-x-2">
      <span>Falloff</span>
      <Choice
        label="Falloff"
        look="tiles"
        value={brush.falloff}
        onChange={onChange}
        options={FALLOFFS.map((falloff) => ({
          value: falloff,
          name: falloff,
          hint: falloff,
          label: (
            <svg viewBox="0 0 32 14" className="h-[14px] w-full" preserveAspectRatio="none" aria-hidden>
              <polyline
                points={drawFalloff(falloff)}
                fill="none"
                stroke="currentColor"
                strokeWidth="1.4"
                vectorEffect="non-scaling-stroke"
              />
            </svg>
          ),
        }))}
      />
    </div>
  );
}

/** The weight across a brush, rim to rim, as places of a line. */
function drawFalloff(falloff: Brush['falloff']): string {
  return Array.from({ length: 33 }, (_, x) => {
    const weight = computeFalloff(falloff, Math.abs(x - 16) / 16);
    return `${x},${(13 - 12 * weight).toFixed(2)}`;
  }).join(' ');
}
