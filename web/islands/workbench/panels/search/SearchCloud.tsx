import { Chart, LinearScale, PointElement, ScatterController } from 'chart.js';
import { useEffect, useMemo, useRef } from 'react';
import { findFront } from '../../../../../core/search/index.ts';
import type { Candidate } from '../../../../wire/trials.ts';
import { plainAxis } from '../../../parts/line-chart.ts';
import { useColors } from '../../../parts/use-colors.ts';

Chart.register(ScatterController, LinearScale, PointElement);

export interface SearchCloudProps {
  results: readonly Candidate[];
  picked: number;
  onPick(index: number): void;
}

/** Every candidate by its penetration and stretch, larger where it costs more; squares are on the front: nothing is better in all three. */
export function SearchCloud({ results, picked, onPick }: SearchCloudProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const colors = useColors();
  const chart = useRef<Chart<'scatter'> | null>(null);
  const pick = useRef(onPick);
  pick.current = onPick;
  const front = useMemo(
    () =>
      new Set(
        findFront(results.map(({ worst, cost }) => [worst.penetration ?? 0, worst.stretch ?? 0, cost])),
      ),
    [results],
  );
  useEffect(
    function createChart() {
      const axis = (text: string) => {
        const { ticks, ...rest } = plainAxis(colors, text);
        return { ...rest, min: 0, ticks: { ...ticks, maxTicksLimit: 5 } };
      };
      chart.current = new Chart<'scatter'>(canvas.current!, {
        type: 'scatter',
        data: { datasets: [{ data: [] }] },
        options: {
          animation: false,
          responsive: true,
          maintainAspectRatio: false,
          interaction: { mode: 'nearest', intersect: false },
          onClick: (_event, elements) => elements[0] && pick.current(elements[0].index),
          scales: { x: axis('Penetration, mm'), y: axis('Stretch, %') },
          plugins: { legend: { display: false }, tooltip: { enabled: false } },
        },
      });
      return () => chart.current?.destroy();
    },
    [colors],
  );
  useEffect(
    function showResults() {
      const [dataset] = chart.current!.data.datasets;
      const most = Math.max(...results.map(({ cost }) => cost)) || 1;
      dataset!.data = results.map(({ worst }) => ({
        x: 1e3 * (worst.penetration ?? 0),
        y: 1e2 * (worst.stretch ?? 0),
      }));
      const dots = results.map(({ passes }, k) =>
        k === picked ? colors.brick : passes ? colors.teal : colors.rim,
      );
      Object.assign(dataset!, {
        pointStyle: results.map((_, k) => (front.has(k) ? 'rect' : 'circle')),
        pointRadius: results.map(({ cost }, k) => (k === picked ? 6 : 2 + (2 * cost) / most)),
        pointBackgroundColor: dots,
        pointBorderColor: dots,
      });
      chart.current!.update('none');
    },
    [results, picked, front, colors],
  );
  return (
    <figure>
      <div className="h-[150px] cursor-pointer" role="img" aria-label="Candidates by penetration and stretch">
        <canvas ref={canvas} />
      </div>
      <figcaption className="text-[11px] text-soft">
        ■ on the front · teal keeps all limits · larger costs more · click to look
      </figcaption>
    </figure>
  );
}
