import { useState } from 'react';
import { tellVertices } from '../../../../../core/math/index.ts';
import { EVEN_RAMP } from '../../../../../core/reach/index.ts';
import type { ReachState } from '../../../../state/reach-work.ts';
import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { CurveEditor } from './CurveEditor.tsx';
import { PickRows } from './PickRows.tsx';
import { ValueRow } from './ValueRow.tsx';

const ENDS = [
  { end: 'low', label: 'Low end', glyph: '▲' },
  { end: 'high', label: 'High end', glyph: '◆' },
] as const;

/** A grade of values between two picked sets of points; its curve and ends stay live as long as the tab is open. */
export function RampTab() {
  const workbench = useWorkbench();
  const { reach, editor } = workbench;
  const channel = useStore(workbench.session, (session) => session.channel);
  const { end, sets, ramp } = useStore(reach.store, (state) => state);
  const [failure, setFailure] = useState<string | null>(null);
  /** Once written, every change of the ramp is shown at once. */
  const [isLive, setLive] = useState(false);
  const write = (mergeKey: string | null): void => {
    try {
      reach.writeRamp(mergeKey);
      setFailure(null);
      setLive(true);
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  const setRamp = (update: Partial<ReachState['ramp']>): void => {
    reach.store.set({ ramp: { ...ramp, ...update } });
    if (isLive) write('ramp');
  };
  const count = (slot: 'low' | 'high'): number => sets[slot]?.reduce((sum, one) => sum + one, 0) ?? 0;
  return (
    <>
      <Choice
        label="End that is picked"
        look="tiles"
        value={end}
        onChange={(each) => reach.store.set({ end: each })}
        options={ENDS.map(({ end: each, label, glyph }) => ({
          value: each,
          label: (
            <>
              <span className="font-semibold">
                {glyph} {label}
              </span>
              <span className="num block text-xs text-soft" data-end={each} data-count={count(each)}>
                {count(each) > 0 ? tellVertices(count(each)) : 'none yet'}
              </span>
            </>
          ),
        }))}
      />
      <p className="mt-1 text-xs text-soft">
        Pick both on the mesh: one click takes a border or a row of edges.
      </p>
      <div className="mt-1.5">
        <PickRows slot={end} />
      </div>
      <div className="mt-2 border-t border-line pt-2">
        <ValueRow channel={channel} label="▲ Value" value={ramp.low} onChange={(low) => setRamp({ low })} />
        <ValueRow
          channel={channel}
          label="◆ Value"
          value={ramp.high}
          onChange={(high) => setRamp({ high })}
        />
        <CurveEditor
          curve={ramp.curve}
          onBegin={() => editor.beginStroke()}
          onChange={(curve) => setRamp({ curve })}
          onEnd={() => editor.endStroke()}
        />
        <div className="mt-1.5 flex gap-1.5">
          <button
            type="button"
            className="btn btn-main"
            disabled={count('low') === 0 || count('high') === 0}
            onClick={() => write(null)}
          >
            Ramp
          </button>
          <button type="button" className="btn" onClick={() => setRamp({ curve: EVEN_RAMP })}>
            Even curve
          </button>
        </div>
        {failure && (
          <p role="alert" className="mt-1.5 text-brick">
            {failure}
          </p>
        )}
        {isLive && !failure && (
          <p className="mt-1.5 text-xs text-soft">Values and curve act at once from now on.</p>
        )}
      </div>
    </>
  );
}
