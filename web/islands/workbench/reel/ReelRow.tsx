import {
  CategoryScale,
  Chart,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
} from 'chart.js';
import { type MouseEvent, useEffect, useMemo, useRef } from 'react';
import type { CaseFrame } from '../../../../core/trials/index.ts';
import { Term } from '../../parts/Term.tsx';
import { useColors } from '../../parts/use-colors.ts';
import type { ReelRowDefinition } from './reel-rows.ts';
import { usePreviewTime } from './use-preview-time.ts';

Chart.register(LineController, LineElement, PointElement, LinearScale, CategoryScale, Filler);

/** Times nearer than this, s, are of one frame. */
const NEAR = 0.02;

export interface ReelRowProps {
  row: ReelRowDefinition;
  /** In the row's unit; null for none. */
  limit: number | null;
  /** Whether a garment is over its limit. */
  isOver: boolean;
  frames: readonly CaseFrame[];
  /** Seconds. */
  duration: number;
  isStale: boolean;
  onClick(event: MouseEvent<HTMLElement>): void;
}

interface Point {
  x: number;
  y: number;
}

/** One measure over the clip, with its highest value, its limit, and what it is at the playhead. */
export function ReelRow({ row, limit, isOver, frames, duration, isStale, onClick }: ReelRowProps) {
  const { key, label, effect, unit, digits, factor, summary, leastTop } = row;
  // Trials end each frame a step later than it began: sorted, the row reads from left to right.
  const points = useMemo(
    () =>
      frames
        .filter((frame) => frame[key] !== null)
        .map((frame): Point => ({ x: frame.time, y: factor * frame[key]! }))
        .sort((p, q) => p.x - q.x),
    [frames, key, factor],
  );
  const most = points.length > 0 ? Math.max(...points.map(({ y }) => y)) : null;
  const mean = points.reduce((sum, { y }) => sum + y, 0) / points.length;
  const shown = summary === 'most' || most === null ? most : mean;
  const top = 1.12 * Math.max(limit ?? leastTop, most ?? 0);
  const canvas = useReelChart({ row, points, limit, duration, top });
  const write = (value: number): string => `${value.toFixed(digits)}${unit && ` ${unit}`}`;
  return (
    <div className="grid max-h-8 min-h-0 flex-1 grid-cols-[84px_70px_60px_1fr_82px] items-center gap-x-2 text-[11.5px] leading-none">
      <Term meaning={effect} page="/manual/reel">
        <span className="term w-max text-soft">{label}</span>
      </Term>
      <span
        className={`num text-right font-semibold ${isStale ? 'text-soft' : isOver ? 'text-brick' : ''}`}
        data-row={label}
        data-shown={shown ?? ''}
        title={`${summary === 'most' ? 'Highest' : 'Mean'}${isOver && limit !== null ? `; a garment is over its limit (the strictest: ${write(limit)})` : ''}`}
      >
        {shown === null ? '–' : write(shown)}
      </span>
      <ValueNow points={points} write={write} />
      <button
        type="button"
        className={`relative h-[calc(100%-3px)] min-h-2.5 rounded-sm bg-paper ${isStale ? 'opacity-50' : ''}`}
        aria-label={`Go to a place in the ${label} row`}
        title={limit === null ? effect : `${effect}. Limit of a garment: ${write(limit)}`}
        onClick={onClick}
      >
        <canvas ref={canvas} className="absolute inset-0" />
      </button>
      <span className="num text-[10.5px] whitespace-nowrap text-soft">
        {limit === null ? `top ${write(top)}` : `limit ${write(limit)}`}
      </span>
    </div>
  );
}

/** What the row is at the playhead, without rendering React. */
function ValueNow({ points, write }: { points: readonly Point[]; write(value: number): string }) {
  const text = useRef<HTMLSpanElement>(null);
  usePreviewTime((time) => {
    const point = points.find(({ x }) => Math.abs(x - time) <= NEAR);
    const said = point ? write(point.y) : '';
    if (text.current && text.current.textContent !== said) text.current.textContent = said;
  });
  return <span ref={text} className="num text-right text-soft" title="At the playhead" data-now="" />;
}

interface ChartProps {
  row: ReelRowDefinition;
  points: readonly Point[];
  limit: number | null;
  duration: number;
  top: number;
}

/** The row as a line, and its limit as another. @returns What to draw it in. */
function useReelChart({ row, points, limit, duration, top }: ChartProps) {
  const color = useColors()[row.color];
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart<'line', Point[]> | null>(null);
  useEffect(
    function createChart() {
      const line = { borderColor: color, pointRadius: 0 };
      const area = {
        backgroundColor: color.replace('rgb(', 'rgba(').replace(')', ', 0.18)'),
        borderWidth: 1.4,
        fill: 'origin',
        tension: 0.25,
      };
      chart.current = new Chart<'line', Point[]>(canvas.current!, {
        type: 'line',
        data: {
          datasets: [
            { data: [], ...line, ...area },
            { data: [], ...line, borderWidth: 1, borderDash: [3, 3], fill: false },
          ],
        },
        options: {
          animation: false,
          responsive: true,
          maintainAspectRatio: false,
          events: [],
          scales: { x: { type: 'linear', display: false }, y: { display: false, min: 0 } },
          plugins: { legend: { display: false }, tooltip: { enabled: false } },
        },
      });
      return () => chart.current?.destroy();
    },
    [color],
  );
  useEffect(
    function showValues() {
      // In other colours it is another chart.
      void color;
      const made = chart.current;
      if (!made) return;
      const most = duration || 1;
      made.data.datasets[0]!.data = [...points];
      made.data.datasets[1]!.data =
        limit === null
          ? []
          : [
              { x: 0, y: limit },
              { x: most, y: limit },
            ];
      made.options.scales!.x!.min = 0;
      made.options.scales!.x!.max = most;
      made.options.scales!.y!.max = top;
      made.update('none');
    },
    [points, limit, duration, top, color],
  );
  return canvas;
}
