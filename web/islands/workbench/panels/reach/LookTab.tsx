import { useState } from 'react';
import { tellVertices } from '../../../../../core/math/index.ts';
import { CHANNELS, compareValues, computeUsableReach } from '../../../../../core/reach/index.ts';
import { describeLegend, writeValue } from '../../../../state/legend.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { MOST_CONTOURS } from '../../../../viewport/reach-colors.ts';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';
import { ValueRow } from './ValueRow.tsx';

/** How the map is read: legend, lines, whiskers, the inward limit, and what is out of reach. */
export function LookTab() {
  const workbench = useWorkbench();
  const { reach, session } = workbench;
  useDocument();
  const state = useStore(reach.store, (all) => all);
  const channel = useStore(session, (all) => all.channel);
  const showWhiskers = useStore(session, (all) => all.showWhiskers);
  const legend = describeLegend(reach, reach.painted?.values ?? null);
  return (
    <>
      <ValueRow
        channel={channel}
        label="Legend to"
        value={legend.top}
        hint="Values above are striped"
        onChange={(top) => reach.store.set({ top: top > 0 ? top : null })}
      />
      <div className="mt-1 flex flex-wrap gap-1.5">
        <ToggleChip
          label="Fits itself"
          hint="The legend holds the largest value"
          isOn={state.top === null}
          onToggle={(fits) => reach.store.set({ top: fits ? null : legend.top })}
        />
        <ToggleChip
          label="Whiskers"
          hint="As long as the max distance of each vertex"
          isOn={showWhiskers}
          onToggle={(isOn) => session.set({ showWhiskers: isOn })}
        />
        <ToggleChip
          label="Inward veil"
          hint="How deep vertices may sink, while an inward limit is shown"
          isOn={state.showInward}
          onToggle={(showInward) => reach.store.set({ showInward })}
        />
        <ToggleChip
          label="Contours"
          hint="Lines of equal value"
          isOn={state.showContours}
          onToggle={(showContours) => reach.store.set({ showContours })}
        />
      </div>
      {state.showContours && <ContourField key={channel} />}
      {channel === 'maxDistance' && <OutOfReach />}
    </>
  );
}

/** Values of the contour lines, typed as a list. */
function ContourField() {
  const { reach } = useWorkbench();
  const [draft, setDraft] = useState<string | null>(null);
  const contours = useStore(reach.store, (state) => state.contours);
  const { channel } = reach;
  const { unit, perUnit } = CHANNELS[channel];
  const shown =
    contours.length > 0 ? contours : describeLegend(reach, reach.painted?.values ?? null).contours;
  const commit = (text: string): void => {
    setDraft(null);
    const values = text
      .split(/[\s,;]+/)
      .filter((part) => part !== '')
      .map(Number)
      .filter((value) => Number.isFinite(value));
    const sorted = [...new Set(values)].sort((p, q) => p - q).slice(0, MOST_CONTOURS);
    reach.store.set({ contours: sorted.map((value) => value / perUnit) });
  };
  return (
    <label className="mt-1.5 grid grid-cols-[84px_1fr] items-center gap-x-2">
      <span>Lines at, {unit}</span>
      <input
        className="field num text-xs"
        aria-label={`Contour lines at, ${unit}`}
        title={`Up to ${MOST_CONTOURS} values; empty: as many as fit`}
        value={draft ?? shown.map((value) => writeValue(channel, value)).join(' ')}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={(event) => draft !== null && commit(event.target.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') commit(event.currentTarget.value);
          else if (event.key === 'Escape') setDraft(null);
        }}
      />
    </label>
  );
}

/** Points that are allowed farther than the cloth around them lets them. */
function OutOfReach() {
  const workbench = useWorkbench();
  const { reach, reachWatch, session } = workbench;
  const marks = useStore(session, (state) => state.marks);
  useStore(reachWatch.store, (state) => state.warnings);
  const { garment, reachMesh } = reach;
  const warning = garment && reachWatch.get(garment.id).find(({ kind }) => kind === 'out-of-reach');
  if (!warning || !garment || !reachMesh) return null;
  const isShown = marks?.kind === 'out-of-reach';
  const show = (): void => {
    const { sectionIndex } = garment;
    const vertices = Uint32Array.from(warning.points, (point) => reachMesh.mesh.vertexOfPoint[point]!);
    session.set({ marks: isShown ? null : { kind: 'out-of-reach', sectionIndex, vertices } });
  };
  const bringDown = (): void => {
    reach.change('Clamp to reachable', ({ values, reachMesh: { neighbours, mesh } }) =>
      compareValues(values, computeUsableReach(values, neighbours, mesh.pointPositions)),
    );
    if (isShown) session.set({ marks: null });
  };
  return (
    <section className="mt-3 border-t border-line pt-2" aria-label="Out of reach">
      <p>
        <b className="num">{tellVertices(warning.count)}</b>: max distance exceeds the cloth length to a
        vertex that may go less far. The solver holds them back all the same.
      </p>
      <div className="mt-1.5 flex gap-1.5">
        <button type="button" className="btn" onClick={show}>
          {isShown ? 'Hide them' : 'Show them'}
        </button>
        <button type="button" className="btn" onClick={bringDown}>
          Clamp to reachable
        </button>
      </div>
    </section>
  );
}
