import { useState } from 'react';
import { toast } from 'sonner';
import {
  CHANNELS,
  compareValues,
  computeClamped,
  computeFlood,
  computeInverted,
  computeOffset,
  computeScaled,
  computeSmoothAll,
  formatValue,
  mirrorValues,
  type SparseChange,
  type WholeMapOptions,
} from '../../../../../core/reach/index.ts';
import type { PaintedMap } from '../../../../state/reach-work.ts';
import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { PercentRow } from '../../../parts/PercentRow.tsx';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';
import { FactorRow } from './FactorRow.tsx';
import { ValueRow } from './ValueRow.tsx';

const SMOOTH_PASSES = 4;

type Act = 'smooth' | 'offset' | 'scale' | 'clamp' | 'mirror';
const ACTS: readonly { act: Act; label: string; hint: string }[] = [
  { act: 'smooth', label: 'Even out', hint: 'Every value towards those around it' },
  { act: 'offset', label: 'Raise / lower', hint: 'Adds the same amount to every value' },
  { act: 'scale', label: 'Multiply', hint: 'Multiplies every value by a factor' },
  { act: 'clamp', label: 'Clamp', hint: 'No value below one or above another' },
  { act: 'mirror', label: 'Other side', hint: "One side's values for the other" },
];

/** What is done to a whole map, or to the picked points of it. Held points stay held, but for flood and invert. */
export function WholeMapCard() {
  const workbench = useWorkbench();
  const { reach } = workbench;
  const channel = useStore(workbench.session, (session) => session.channel);
  const value = useStore(workbench.session, (session) => session.brush.values[session.channel]);
  const hasMask = useStore(reach.store, (state) => state.sets.mask) !== null;
  const [act, setAct] = useState<Act | null>(null);
  const change = (
    label: string,
    compute: (painted: PaintedMap, options: WholeMapOptions) => SparseChange,
  ): void => reach.change(label, (painted) => compute(painted, { kind: painted.kind, mask: reach.mask }));
  const shown = formatValue(channel, value);
  return (
    <section className="mt-3 border-t border-line pt-2.5" aria-label="Whole map">
      <h2 className="heading">{hasMask ? 'All picked vertices' : 'The whole map'}</h2>
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        <button
          type="button"
          className="btn"
          title="Every vertex gets the brush's value"
          onClick={() =>
            change(`Flood ${shown}`, ({ values }, options) => computeFlood(values, value, options))
          }
        >
          Flood {shown}
        </button>
        <button
          type="button"
          className="btn"
          title={`Every vertex back to ${formatValue(channel, CHANNELS[channel].defaultValue)}`}
          onClick={() =>
            change('Flood the default', ({ values, kind }, options) =>
              computeFlood(values, CHANNELS[kind].defaultValue, options),
            )
          }
        >
          {channel === 'maxDistance' ? 'Hold all' : 'Default'}
        </button>
        <button
          type="button"
          className="btn"
          title="Smallest becomes largest, and the other way round"
          onClick={() => change('Invert', ({ values }, options) => computeInverted(values, options))}
        >
          Invert
        </button>
      </div>
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        {ACTS.map((each) => (
          <ToggleChip
            key={each.act}
            label={each.label}
            hint={each.hint}
            isOn={act === each.act}
            onToggle={(isOn) => setAct(isOn ? each.act : null)}
          />
        ))}
      </div>
      {act && <ActRows key={`${act} ${channel}`} act={act} onChange={change} />}
    </section>
  );
}

interface ActRowsProps {
  act: Act;
  onChange(label: string, compute: (painted: PaintedMap, options: WholeMapOptions) => SparseChange): void;
}

/** The settings of one act, and the button that does it. */
function ActRows({ act, onChange }: ActRowsProps) {
  const workbench = useWorkbench();
  const channel = useStore(workbench.session, (session) => session.channel);
  const { brushValue } = CHANNELS[channel];
  const [strength, setStrength] = useState(0.5);
  const [amount, setAmount] = useState(brushValue / 10);
  const [factor, setFactor] = useState(1.2);
  const [low, setLow] = useState(CHANNELS[channel].range[0]);
  const [high, setHigh] = useState(brushValue);
  const [from, setFrom] = useState<'left' | 'right'>('left');
  const apply = (): void => {
    switch (act) {
      case 'smooth':
        onChange('Even out all', ({ values, reachMesh }, options) =>
          computeSmoothAll(values, reachMesh.neighbours, strength, SMOOTH_PASSES, options),
        );
        break;
      case 'offset':
        onChange('Raise or lower all', ({ values }, options) => computeOffset(values, amount, options));
        break;
      case 'scale':
        onChange(`Multiply by ${factor}`, ({ values }, options) => computeScaled(values, factor, options));
        break;
      case 'clamp':
        if (low <= high)
          onChange('Clamp', ({ values }, options) => computeClamped(values, low, high, options));
        else toast.error('The lower limit lies above the upper one.');
        break;
      case 'mirror':
        onChange('Mirror', ({ values, reachMesh: { mesh } }, { mask }) =>
          compareValues(
            values,
            mirrorValues({ positions: mesh.pointPositions, triangles: mesh.faces }, values, from),
            mask,
          ),
        );
        break;
    }
  };
  return (
    <div className="mt-1">
      {act === 'smooth' && (
        <PercentRow label="Strength" value={strength} least={5} step={5} onChange={setStrength} />
      )}
      {act === 'offset' && (
        <ValueRow channel={channel} label="Amount" value={amount} isSigned onChange={setAmount} />
      )}
      {act === 'scale' && <FactorRow value={factor} onChange={setFactor} />}
      {act === 'clamp' && (
        <>
          <ValueRow channel={channel} label="Not below" value={low} onChange={setLow} />
          <ValueRow channel={channel} label="Not above" value={high} onChange={setHigh} />
        </>
      )}
      {act === 'mirror' && (
        <div className="mt-1">
          <Choice
            label="Direction"
            value={from}
            options={[
              { value: 'left', label: 'Left to right', hint: "The character's own left" },
              { value: 'right', label: 'Right to left' },
            ]}
            onChange={(next) => setFrom(next as typeof from)}
          />
        </div>
      )}
      <button type="button" className="btn btn-main mt-1.5" onClick={apply}>
        {act === 'mirror' ? 'Mirror' : `${ACTS.find((each) => each.act === act)!.label} all`}
      </button>
    </div>
  );
}
