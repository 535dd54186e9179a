import {
  CategoryScale,
  Chart,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
} from 'chart.js';
import { useEffect, useRef } from 'react';
import { type CaseRows, type MeasureDefinition, summariseRow } from '../../../../../core/trials/index.ts';
import { PLAIN_CHART, PLAIN_LINE, plainAxis } from '../../../parts/line-chart.ts';
import { useColors } from '../../../parts/use-colors.ts';

Chart.register(LineController, LineElement, PointElement, LinearScale, CategoryScale, Filler, Tooltip);

const LOOKS = ['teal', 'marigold', 'violet', 'moss', 'plum', 'brick'] as const;

export interface CaseChartProps {
  rows: CaseRows;
  /** The same of an earlier trial. */
  earlier: CaseRows | null;
  measure: MeasureDefinition;
  /** In the measure's own unit. */
  limit: number | null;
}

/** One measure of one case over time: each garment, the whole of an earlier trial, and the limit. */
export function CaseChart({ rows, earlier, measure, limit }: CaseChartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const colors = useColors();
  useEffect(
    function drawChart() {
      const { key, factor, unit, label, digits } = measure;
      const toPoints = (times: Float32Array, values: Float32Array): { x: number; y: number }[] =>
        Array.from(times, (x, i) => ({ x, y: factor * values[i]! }))
          .filter(({ y }) => !Number.isNaN(y))
          // A clip that closes ends where it began.
          .sort((p, q) => p.x - q.x);
      const axis = plainAxis(colors, '');
      const line = { ...PLAIN_LINE, borderWidth: 1.5 };
      const end = rows.times.reduce((last, time) => Math.max(last, time), 0) || 1;
      const chart = new Chart(canvas.current!, {
        type: 'line',
        data: {
          datasets: [
            ...rows.garments.map((garment, g) => ({
              label: garment.garmentName,
              data: toPoints(rows.times, garment.rows[key]),
              borderColor: colors[LOOKS[g % LOOKS.length]!],
              ...line,
            })),
            ...(earlier
              ? [
                  {
                    label: 'all, earlier trial',
                    data: toPoints(earlier.times, earlier.whole[key]),
                    borderColor: colors.soft,
                    borderDash: [2, 3],
                    ...line,
                  },
                ]
              : []),
            ...(limit === null
              ? []
              : [
                  {
                    label: 'limit',
                    data: [
                      { x: 0, y: factor * limit },
                      { x: end, y: factor * limit },
                    ],
                    borderColor: colors.brick,
                    borderDash: [5, 4],
                    ...line,
                  },
                ]),
          ],
        },
        options: {
          ...PLAIN_CHART,
          scales: {
            x: {
              ...axis,
              type: 'linear',
              min: 0,
              max: end,
              ticks: {
                ...axis.ticks,
                callback: (value) => `${Number(Number(value).toFixed(2))} s`,
                maxTicksLimit: 8,
                maxRotation: 0,
                includeBounds: false,
              },
            },
            y: { ...plainAxis(colors, unit), min: 0 },
          },
          plugins: {
            tooltip: {
              callbacks: {
                title: (items) => `${Number(items[0]?.parsed.x ?? 0).toFixed(2)} s`,
                label: ({ dataset, parsed }) =>
                  `${dataset.label}: ${(parsed.y ?? 0).toFixed(digits)}${unit && ` ${unit}`}`,
              },
            },
          },
        },
      });
      canvas.current!.setAttribute('aria-label', `${label} of ${rows.name} over time`);
      return () => chart.destroy();
    },
    [rows, earlier, measure, limit, colors],
  );
  const names = [
    ...rows.garments.map(({ garmentName }, g) => ({
      name: garmentName,
      color: colors[LOOKS[g % LOOKS.length]!],
      dash: '',
    })),
    ...(earlier ? [{ name: 'all, earlier trial', color: colors.soft, dash: '2 3' }] : []),
    ...(limit === null ? [] : [{ name: 'limit', color: colors.brick, dash: '5 4' }]),
  ];
  return (
    <figure className="mt-2 border-t border-line pt-2">
      <figcaption className="flex flex-wrap items-center gap-x-3 text-xs">
        <b className="min-w-0 truncate">
          {rows.name}: {measure.label}
        </b>
        {names.map(({ name, color, dash }) => (
          <span key={name} className="flex items-center gap-1 text-soft">
            <svg width="16" height="4" aria-hidden>
              <line x1="0" y1="2" x2="16" y2="2" stroke={color} strokeWidth="2" strokeDasharray={dash} />
            </svg>
            {name}
          </span>
        ))}
      </figcaption>
      {measure.key === 'cost' && <ClockNote rows={rows} />}
      <div className="relative h-[110px]">
        <canvas ref={canvas} role="img" />
      </div>
    </figure>
  );
}

/** What the machine that ran the trial took by its clock, beside what the work costs. */
function ClockNote({ rows: { whole, clock } }: { rows: CaseRows }) {
  const [priced, took] = [whole.cost, clock[0]].map((row) => row && summariseRow(row));
  if (!priced || !took) return null;
  return (
    <p className="text-xs text-soft">
      On the target a frame costs <span className="num">{priced.mean.toFixed(2)} ms</span> on the mean; by the
      clock of the machine that ran the trial a simulated frame took{' '}
      <span className="num">{took.mean.toFixed(2)} ms</span>.
    </p>
  );
}
