import { CategoryScale, Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import { useEffect, useRef } from 'react';
import type { CaseFrame } from '../../../core/trials/index.ts';
import type { Comparison } from '../../state/comparison.ts';
import { useStore } from '../../state/store.ts';
import { useColors } from '../parts/use-colors.ts';

Chart.register(LineController, LineElement, PointElement, LinearScale, CategoryScale);

const SIDE_COLORS = ['teal', 'marigold'] as const;

const MEASURES = [
  { key: 'showThrough', label: 'show-through', unit: 'cm²', factor: 10_000, digits: 1, summary: 'most' },
  { key: 'penetration', label: 'penetration', unit: 'mm', factor: 1000, digits: 1, summary: 'most' },
  { key: 'stretch', label: 'stretch', unit: '%', factor: 100, digits: 1, summary: 'most' },
  { key: 'cost', label: 'cost', unit: 'ms', factor: 1, digits: 2, summary: 'mean' },
] as const;

type Measure = (typeof MEASURES)[number];

/** What a trial of the clip measures on both sides: over time, and the difference in numbers. */
export function CompareRows({ comparison }: { comparison: Comparison }) {
  const [left, right] = comparison.sides.map(({ trial }) => trial) as [TrialStore, TrialStore];
  const a = useStore(left.store, (state) => state);
  const b = useStore(right.store, (state) => state);
  const clip = useStore(comparison.playback.session, (session) => session.clip);
  if (clip === null) {
    return (
      <p className="mt-3 text-soft">
        Choose a clip to measure show-through, penetration, stretch and cost over it.
      </p>
    );
  }
  const isRunning = a.isRunning || b.isRunning;
  const { duration } = comparison.playback.character.clips[clip]!;
  return (
    <div className="mt-1.5 grid grid-cols-4 gap-5" data-trial={isRunning ? 'running' : 'done'}>
      {MEASURES.map((measure) => (
        <MeasureRow
          key={measure.key}
          measure={measure}
          frames={[a.frames, b.frames]}
          duration={duration}
          isStale={isRunning}
        />
      ))}
    </div>
  );
}

type TrialStore = Comparison['sides'][0]['trial'];

interface MeasureRowProps {
  measure: Measure;
  frames: readonly [readonly CaseFrame[], readonly CaseFrame[]];
  duration: number;
  isStale: boolean;
}

function MeasureRow({ measure, frames, duration, isStale }: MeasureRowProps) {
  const { label, unit, digits, summary } = measure;
  const [a, b] = frames.map((side) => summarise(side, measure)) as [number | null, number | null];
  const show = (value: number | null): string => (value === null ? '–' : value.toFixed(digits));
  const difference = a === null || b === null ? null : b - a;
  return (
    <div className={isStale ? 'opacity-50' : ''}>
      <div className="flex items-baseline gap-3">
        <span className="whitespace-nowrap text-soft" title={`The ${summary} of the clip`}>
          {label}
        </span>
        <span className="num whitespace-nowrap text-xs">
          <b className="text-teal">A {show(a)}</b> · <b className="text-marigold-ink">B {show(b)}</b> {unit}
        </span>
        <span
          className="num ml-auto whitespace-nowrap text-xs font-semibold"
          data-difference={label}
          data-shown={difference ?? ''}
          title="B less A"
        >
          {difference === null ? '–' : `${difference > 0 ? '+' : ''}${difference.toFixed(digits)} ${unit}`}
        </span>
      </div>
      <MeasureChart measure={measure} frames={frames} duration={duration} />
    </div>
  );
}

function MeasureChart({ measure, frames, duration }: Omit<MeasureRowProps, 'isStale'>) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart<'line', { x: number; y: number }[]> | null>(null);
  const colors = useColors();
  useEffect(
    function createChart() {
      chart.current = new Chart<'line', { x: number; y: number }[]>(canvas.current!, {
        type: 'line',
        data: {
          datasets: SIDE_COLORS.map((name, side) => ({
            data: [],
            borderColor: colors[name],
            borderWidth: 1.6,
            // Told apart without colour too.
            borderDash: side === 1 ? [5, 3] : [],
            pointRadius: 0,
            tension: 0.25,
          })),
        },
        options: {
          animation: false,
          responsive: true,
          maintainAspectRatio: false,
          events: [],
          scales: { x: { type: 'linear', display: false }, y: { display: false, min: 0, grace: '10%' } },
          plugins: { legend: { display: false }, tooltip: { enabled: false } },
        },
      });
      return () => chart.current?.destroy();
    },
    [colors],
  );
  useEffect(
    function showFrames() {
      // In other colours it is another chart.
      void colors;
      const made = chart.current;
      if (!made) return;
      frames.forEach((side, index) => {
        const rows = side.map((frame) => ({ x: frame.time, y: measure.factor * frame[measure.key] }));
        made.data.datasets[index]!.data = rows.sort((p, q) => p.x - q.x);
      });
      made.options.scales!.x!.min = 0;
      made.options.scales!.x!.max = duration || 1;
      made.update('none');
    },
    [frames, measure, duration, colors],
  );
  return (
    <div
      className="relative mt-1 h-[76px] rounded-sm bg-paper"
      role="img"
      aria-label={`${measure.label} over the clip`}
    >
      <canvas ref={canvas} className="absolute inset-0" />
    </div>
  );
}

function summarise(frames: readonly CaseFrame[], { key, factor, summary }: Measure): number | null {
  if (frames.length === 0) return null;
  const values = frames.map((frame) => factor * frame[key]);
  if (summary === 'most') return Math.max(...values);
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}
