import { BarController, BarElement, CategoryScale, Chart, LinearScale } from 'chart.js';
import { Brush, Droplet } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { findChannel, listGarments } from '../../../../core/document/index.ts';
import { buildEdgeTable, buildNeighbours, weldPoints, weldTriangles } from '../../../../core/mesh/index.ts';
import { computeFlood, computeSmoothAll, FALLOFFS, type Falloff } from '../../../../core/reach/index.ts';
import type { Session } from '../../../state/session.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { fitLegend, getReachColor } from '../../../viewport/reach-colors.ts';
import { NumberRow } from '../../parts/NumberRow.tsx';

Chart.register(BarController, BarElement, CategoryScale, LinearScale);

const SMOOTH_PASSES = 4;

/** Brush and whole-map operations for the max distance. */
export function ReachPanel() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const { brush, garmentId } = useStore(workbench.session, (session) => session);
  const garment = listGarments(editor.document).find(({ id }) => id === garmentId);
  const channel = garment ? findChannel(editor.document, garment.id) : null;
  const setBrush = (update: Partial<Session['brush']>): void =>
    workbench.session.set({ brush: { ...brush, ...update } });
  if (!garment || !channel) {
    return (
      <>
        <h1 className="text-[20px] font-semibold tracking-tight">Reach</h1>
        <p className="mt-2 text-soft">
          Make a garment first; then paint here how far each of its points may move.
        </p>
        <button
          type="button"
          className="btn btn-main mt-3"
          onClick={() => workbench.session.set({ stage: 'garment' })}
        >
          Go to Garment
        </button>
      </>
    );
  }
  return (
    <>
      <h1 className="text-[20px] font-semibold tracking-tight">
        Reach <span className="ml-1 text-sm font-normal text-soft">max distance</span>
      </h1>
      <div
        className="mt-3 grid grid-cols-2 overflow-hidden rounded-md border border-line"
        role="radiogroup"
        aria-label="Brush does"
      >
        {(['set', 'smooth'] as const).map((mode) => (
          <button
            type="button"
            key={mode}
            role="radio"
            aria-checked={brush.mode === mode}
            className={`flex items-center justify-center gap-1.5 py-1 font-semibold ${brush.mode === mode ? 'bg-teal text-white' : 'bg-white'}`}
            onClick={() => setBrush({ mode })}
          >
            {mode === 'set' ? <Brush size={14} /> : <Droplet size={14} />}
            {mode === 'set' ? 'Set' : 'Smooth'}
          </button>
        ))}
      </div>
      <div className="mt-2">
        <NumberRow
          label="Value"
          value={100 * brush.value}
          unit="cm"
          min={0}
          max={200}
          step={0.5}
          digits={1}
          isLogarithmic
          onChange={(cm) => setBrush({ value: cm / 100 })}
        />
        <NumberRow
          label="Radius"
          value={100 * brush.radius}
          unit="cm"
          min={0.5}
          max={100}
          step={0.5}
          digits={1}
          isLogarithmic
          hint="Square brackets change it on the mesh"
          onChange={(cm) => setBrush({ radius: cm / 100 })}
        />
        <NumberRow
          label="Strength"
          value={100 * brush.strength}
          unit="%"
          min={1}
          max={100}
          step={1}
          digits={0}
          onChange={(percent) => setBrush({ strength: percent / 100 })}
        />
      </div>
      <div className="mt-2 flex flex-wrap gap-1.5" role="radiogroup" aria-label="Falloff">
        {FALLOFFS.map((falloff: Falloff) => (
          <button
            type="button"
            key={falloff}
            role="radio"
            aria-checked={brush.falloff === falloff}
            className="chip"
            onClick={() => setBrush({ falloff })}
          >
            {falloff}
          </button>
        ))}
      </div>
      <div className="mt-2">
        <button
          type="button"
          className="chip"
          aria-pressed={brush.visibleSide}
          title="Leave the side that faces away alone"
          onClick={() => setBrush({ visibleSide: !brush.visibleSide })}
        >
          Visible side
        </button>
      </div>
      <WholeMap key={channel.id} garmentId={garment.id} />
    </>
  );
}

function WholeMap({ garmentId }: { garmentId: NonNullable<Session['garmentId']> }) {
  const workbench = useWorkbench();
  const editor = useDocument();
  const value = useStore(workbench.session, (session) => session.brush.value);
  const garment = listGarments(editor.document).find(({ id }) => id === garmentId)!;
  const channel = findChannel(editor.document, garmentId)!;
  const values = editor.document.arrays.get(channel.id)!;
  const [smoothing, setSmoothing] = useState(50);
  const neighbours = useMemo(() => {
    const section = editor.character.sections[garment.sectionIndex]!;
    const { pointOfVertex, pointCount } = weldPoints(section.positions);
    return buildNeighbours(
      buildEdgeTable(weldTriangles(section.triangles, pointOfVertex), pointCount),
      pointCount,
    );
  }, [editor, garment.sectionIndex]);
  const held = values.reduce((count, each) => count + (each === 0 ? 1 : 0), 0);
  return (
    <div className="mt-4 border-t border-line pt-3">
      <div className="flex gap-1.5">
        <button
          type="button"
          className="btn flex-1"
          title="Every point gets the value"
          onClick={() =>
            editor.paint(`Flood ${(100 * value).toFixed(1)} cm`, channel.id, computeFlood(values, value))
          }
        >
          Flood {(100 * value).toFixed(1)} cm
        </button>
        <button
          type="button"
          className="btn"
          title="Every point becomes held"
          onClick={() => editor.paint('Flood 0 cm', channel.id, computeFlood(values, 0))}
        >
          Hold all
        </button>
      </div>
      <div className="mt-2">
        <NumberRow
          label="Smoothing"
          value={smoothing}
          unit="%"
          min={5}
          max={100}
          step={5}
          digits={0}
          onChange={setSmoothing}
        />
        <button
          type="button"
          className="btn mt-1 w-full"
          title="Held points stay held"
          onClick={() =>
            editor.paint(
              'Smooth all',
              channel.id,
              computeSmoothAll(values, neighbours, smoothing / 100, SMOOTH_PASSES),
            )
          }
        >
          Smooth all
        </button>
      </div>
      <h2 className="heading mt-4">Spread of values</h2>
      <Histogram values={values} revision={editor.revision} />
      <p className="num mt-1 text-xs text-soft" data-held={held}>
        {held.toLocaleString('en')} of {values.length.toLocaleString('en')} points held
      </p>
    </div>
  );
}

const BINS = 20;

function Histogram({ values, revision }: { values: Float32Array; revision: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart<'bar', number[], number> | null>(null);
  useEffect(function createChart() {
    chart.current = new Chart<'bar', number[], number>(canvas.current!, {
      type: 'bar',
      data: {
        labels: Array.from({ length: BINS }, (_, bin) => bin),
        datasets: [
          {
            data: [],
            backgroundColor: Array.from({ length: BINS }, (_, bin) => getReachColor((bin + 0.5) / BINS)),
            categoryPercentage: 1,
            barPercentage: 0.86,
          },
        ],
      },
      options: {
        animation: false,
        responsive: true,
        maintainAspectRatio: false,
        events: [],
        scales: { x: { display: false }, y: { display: false, min: 0 } },
        plugins: { legend: { display: false }, tooltip: { enabled: false } },
      },
    });
    return () => chart.current?.destroy();
  }, []);
  const top = fitLegend(values);
  useEffect(
    function showBins() {
      // The values are changed in place; the revision says when.
      void revision;
      const bins = new Array<number>(BINS).fill(0);
      for (const value of values) bins[Math.min(BINS - 1, Math.floor((value / top) * BINS))]!++;
      chart.current!.data.datasets[0]!.data = bins;
      chart.current!.update('none');
    },
    [values, revision, top],
  );
  return (
    <div className="mt-1">
      <div className="h-14">
        <canvas ref={canvas} />
      </div>
      <div className="num flex justify-between text-xs text-soft">
        <span>0</span>
        <span>{Number((100 * top).toFixed(1))} cm</span>
      </div>
    </div>
  );
}
