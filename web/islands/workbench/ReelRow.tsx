import {
  CategoryScale,
  Chart,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
} from 'chart.js';
import { type MouseEvent, useEffect, useRef } from 'react';

Chart.register(LineController, LineElement, PointElement, LinearScale, CategoryScale, Filler);

export interface ReelRowProps {
  label: string;
  /** What it measures, in a sentence. */
  effect: string;
  unit: string;
  digits: number;
  color: string;
  values: number[];
  /** Seconds. */
  times: number[];
  duration: number;
  /** The row's top is at least this, so that noise does not look like a peak. */
  leastTop: number;
  /** What the number beside the row is: its peak, or its mean where single frames say little (times). */
  summary: 'most' | 'mean';
  isStale: boolean;
  onClick(event: MouseEvent<HTMLElement>): void;
}

/** One measure over the clip, with its highest value. */
export function ReelRow({
  label,
  effect,
  unit,
  digits,
  color,
  values,
  times,
  duration,
  leastTop,
  summary,
  isStale,
  onClick,
}: ReelRowProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart<'line', { x: number; y: number }[]> | null>(null);
  useEffect(
    function createChart() {
      chart.current = new Chart<'line', { x: number; y: number }[]>(canvas.current!, {
        type: 'line',
        data: {
          datasets: [
            {
              data: [],
              borderColor: color,
              backgroundColor: `${color}2E`,
              borderWidth: 1.4,
              pointRadius: 0,
              fill: 'origin',
              tension: 0.25,
            },
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
  const most = values.length > 0 ? Math.max(...values) : null;
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  const shown = summary === 'most' || most === null ? most : mean;
  useEffect(
    function showValues() {
      const made = chart.current;
      if (!made) return;
      // Trials end each frame a step later than it began: sorted, the row reads from left to right.
      const rows = values.map((y, i) => ({ x: times[i]!, y })).sort((p, q) => p.x - q.x);
      made.data.datasets[0]!.data = rows;
      made.options.scales!.x!.min = 0;
      made.options.scales!.x!.max = duration || 1;
      made.options.scales!.y!.max = 1.12 * Math.max(leastTop, most ?? 0);
      made.update('none');
    },
    [values, times, duration, leastTop, most],
  );
  return (
    <div className="grid h-1/5 max-h-8 grid-cols-[90px_70px_1fr] items-center gap-x-2">
      <span className="text-soft" title={effect}>
        {label}
      </span>
      <span
        className={`num text-right text-xs font-semibold ${isStale ? 'text-soft' : ''}`}
        data-row={label}
        data-shown={shown ?? ''}
        title={summary === 'most' ? 'Highest' : 'Mean'}
      >
        {shown === null ? '–' : `${shown.toFixed(digits)} ${unit}`}
      </span>
      <button
        type="button"
        className={`relative h-[calc(100%-6px)] min-h-3 rounded-sm bg-paper ${isStale ? 'opacity-50' : ''}`}
        aria-label={`Go to a place in the ${label} row`}
        onClick={onClick}
      >
        <canvas ref={canvas} className="absolute inset-0" />
      </button>
    </div>
  );
}
