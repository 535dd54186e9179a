import { type RefObject, useEffect, useRef } from 'react';
import { COVERED, OVERHUNG } from '../../../core/body-figures/index.ts';
import { CHANNELS, type ChannelKind, formatValue } from '../../../core/reach/index.ts';
import { describeLegend, writeValue } from '../../state/legend.ts';
import type { Brush } from '../../state/session.ts';
import { useStore } from '../../state/store.ts';
import type { WeightWork } from '../../state/weight-work.ts';
import { useDocument, useWorkbench } from '../../state/workbench.ts';
import { FIT_GRADIENT, FULL_BARE, FULL_OVERHANG } from '../../viewport/fit-colors.ts';
import { DIFFERENCE_GRADIENT, REACH_GRADIENT, REACH_STOPS } from '../../viewport/reach-colors.ts';
import { Viewport } from '../../viewport/viewport.ts';
import { WEIGHT_GRADIENT } from '../../viewport/weight-colors.ts';
import { Term } from '../parts/Term.tsx';
import { assignFabric } from './assign-fabric.ts';
import { LevelsReading } from './LevelsReading.tsx';
import { FABRIC_DRAG_TYPE } from './panels/FabricLibrary.tsx';
import { VersionBanner } from './VersionBanner.tsx';
import { WindDial } from './WindDial.tsx';

export interface ViewportPaneProps {
  viewport: RefObject<Viewport | null>;
}

/** The canvas with the legend, the reading at the cursor, and what is being shown. */
export function ViewportPane({ viewport }: ViewportPaneProps) {
  const workbench = useWorkbench();
  const container = useRef<HTMLDivElement>(null);
  const lightDrawing = useStore(workbench.session, (session) => session.lightDrawing);
  const stage = useStore(workbench.session, (session) => session.stage);
  const hand = useStore(workbench.session, (session) => session.hand);
  const failure = useStore(workbench.preview.store, (state) => state.failure);
  const hasFrame = useStore(workbench.preview.store, (state) => state.layout !== null);

  useEffect(
    function mountViewport() {
      // Smoothing of edges is fixed when the canvas is made.
      void lightDrawing;
      const made = new Viewport(container.current!, workbench, (reading) =>
        workbench.reading.set({ reading }),
      );
      viewport.current = made;
      // For a look from the console, and for tests that point at things.
      if (localStorage.getItem('debug') === 'on')
        Object.assign(window, { cobweb: { viewport: made, workbench } });
      return () => {
        viewport.current = null;
        made.dispose();
      };
    },
    [workbench, viewport, lightDrawing],
  );

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a place to drop a fabric; the library offers the same by click
    <div
      className="stage-ground relative h-full overflow-hidden"
      data-preview={hasFrame ? 'moving' : 'loading'}
      onDragOver={(event) => {
        if (event.dataTransfer.types.includes(FABRIC_DRAG_TYPE)) event.preventDefault();
      }}
      onDrop={(event) => {
        const garmentId = viewport.current?.findGarmentAt(event.clientX, event.clientY);
        if (garmentId) assignFabric(workbench, garmentId, event.dataTransfer.getData(FABRIC_DRAG_TYPE));
      }}
    >
      <div ref={container} className="absolute inset-0" role="img" aria-label="The character" />
      <VersionBanner />
      {failure && (
        <div role="alert" className="floating absolute top-3 left-1/2 -translate-x-1/2 text-brick">
          <b>The preview stopped.</b> {failure} Reload the page to start it again.
        </div>
      )}
      {(stage === 'reach' || stage === 'garment') && <Reading />}
      {stage === 'reach' && <Legend />}
      {stage === 'bodies' && <FitLegend />}
      {stage === 'garment' && hand?.kind === 'weights' && <WeightLegend work={hand} />}
      {stage === 'levels' && <LevelsReading viewport={viewport} />}
      {stage === 'fabric' && <WindDial viewport={viewport} />}
      <Status />
    </div>
  );
}

/** The value under the cursor: all that renders while a stroke goes on. */
function Reading() {
  const workbench = useWorkbench();
  const reading = useStore(workbench.reading, (state) => state.reading);
  const brush = useStore(workbench.session, (session) => session.brush);
  const channel = useStore(workbench.session, (session) => session.channel);
  const tab = useStore(workbench.reach.store, (state) => state.tab);
  if (!reading) return null;
  return (
    <div
      className="pointer-events-none absolute z-10 rounded-md bg-ink px-2.5 py-1.5 text-panel"
      style={{ left: reading.x + 18, top: reading.y + 14 }}
    >
      <div className="num">
        <b>{reading.joint ? `${(100 * reading.value).toFixed(1)} %` : formatValue(channel, reading.value)}</b>
      </div>
      <div className="text-xs text-panel/75">
        {reading.joint && `${reading.joint} · `}vertex {reading.point}
      </div>
      {!reading.joint && tab !== 'points' && tab !== 'ramp' && (
        <div className="num text-xs text-panel/75">
          {describeBrush(brush, channel)} · r {(100 * brush.radius).toFixed(1)}
        </div>
      )}
    </div>
  );
}

/** What the brush would do, in a few words. */
function describeBrush(brush: Brush, channel: ChannelKind): string {
  const value = brush.values[channel];
  switch (brush.mode) {
    case 'value':
      return `to ${formatValue(channel, value)}`;
    case 'raise':
      return `${value < 0 ? 'lower by' : 'raise by'} ${formatValue(channel, Math.abs(value))}`;
    case 'multiply':
      return `multiply by ${brush.factor.toFixed(2)}`;
    case 'evenOut':
      return 'even out';
    default:
      return brush.mode;
  }
}

const HELD =
  'Its max distance is 0: it stays on its skinned place, with joints and morphs, and is not simulated. Squares thin out from afar, so that they do not merge.';

function Legend() {
  const workbench = useWorkbench();
  useDocument();
  const { reach } = workbench;
  useStore(workbench.session, (session) => session);
  useStore(reach.store, (state) => state);
  const { garment, channel, comparison, painted } = reach;
  if (!garment) return null;
  const { label, unit, effect } = CHANNELS[channel];
  const { top } = describeLegend(reach, painted?.values ?? null);
  const marks = comparison ? [-top, 0, top] : [0, top / 2, top];
  return (
    <div className="floating absolute bottom-3 left-3 w-[190px]" data-legend={channel}>
      <p className="mb-1.5 text-xs text-soft">
        <Term meaning={effect} page="/manual/reach">
          <span className="term">
            {comparison ? `${label.toLowerCase()}, difference` : label.toLowerCase()}
          </span>
        </Term>
        , {unit}
      </p>
      <div
        className="h-2 rounded-full"
        style={{ background: comparison ? DIFFERENCE_GRADIENT : REACH_GRADIENT }}
      />
      <div className="num mt-1 flex justify-between text-xs">
        {marks.map((mark) => (
          <span key={mark}>{writeValue(channel, mark)}</span>
        ))}
      </div>
      <p className="mt-1 flex items-center gap-1.5 text-xs">
        <span
          className="flex size-[13px] items-center justify-center"
          style={{ background: REACH_STOPS[0] }}
          aria-hidden
        >
          <span className="size-[7px] border border-[#fcfaf5]" />
        </span>
        <Term meaning={HELD} page="/manual/reach">
          <span className="term">held</span>
        </Term>
        {channel === 'inwardLimit' && <span className="ml-2 text-soft">30 cm: no limit</span>}
      </p>
    </div>
  );
}

/** What the heat map of the bodies says. */
function FitLegend() {
  const { session } = useWorkbench();
  const fitMap = useStore(session, (state) => state.fitMap);
  if (fitMap === 'off') return null;
  return (
    <div className="floating absolute bottom-3 left-3 w-[230px]" data-legend="fit">
      <p className="mb-1.5 text-xs text-soft">
        skin from the nearest body, cm{fitMap === 'clips' && ', worst of the clips'}
      </p>
      <div className="h-2 rounded-full" style={{ background: FIT_GRADIENT }} />
      <div className="num mt-1 flex justify-between text-xs">
        <span>{(100 * FULL_OVERHANG).toFixed(0)} inside</span>
        <span>covered</span>
        <span>{(100 * FULL_BARE).toFixed(0)} bare</span>
      </div>
      <p className="mt-1 text-xs text-soft">
        overhang from {(100 * OVERHUNG).toFixed(1)} cm inside; bare, with dots, from{' '}
        {(100 * COVERED).toFixed(1)} cm outside
      </p>
    </div>
  );
}

function WeightLegend({ work }: { work: WeightWork }) {
  const { view, joint } = useStore(work.store, (settings) => settings);
  if (view === 'leading')
    return (
      <div className="floating absolute bottom-3 left-3 text-xs text-soft">
        coloured by the joint that leads, see the list
      </div>
    );
  return (
    <div className="floating absolute bottom-3 left-3 w-[190px]">
      <p className="mb-1.5 truncate text-xs text-soft">weight of {work.jointNames[joint]}, %</p>
      <div className="h-2 rounded-full" style={{ background: WEIGHT_GRADIENT }} />
      <div className="num mt-1 flex justify-between text-xs">
        {[0, 50, 100].map((percent) => (
          <span key={percent}>{percent}</span>
        ))}
      </div>
    </div>
  );
}

function Status() {
  const workbench = useWorkbench();
  const { clip, isPlaying, isolated, pace, turns, stage, hand } = useStore(
    workbench.session,
    (session) => session,
  );
  const { character } = workbench.editor;
  const motion = pace === 0 ? 'stopped' : clip !== null && !isPlaying ? 'held' : 'simulating';
  const name = clip === null ? 'bind pose' : character.clips[clip]!.name;
  return (
    <div className="floating num absolute right-3 bottom-3 flex items-center gap-2 text-xs !py-1.5">
      <span>
        {name} · {stage === 'garment' && hand ? 'skinned' : motion}
        {pace > 0 && pace < 1 && ` at ${pace}×`}
        {turns.length > 0 && ` · ${turns.length} ${turns.length === 1 ? 'joint' : 'joints'} turned`}
      </span>
      {isolated !== null && (
        <button
          type="button"
          className="font-sans font-semibold text-teal"
          onClick={() => workbench.session.set({ isolated: null })}
        >
          only {character.sections[isolated]!.name} · show all
        </button>
      )}
    </div>
  );
}
