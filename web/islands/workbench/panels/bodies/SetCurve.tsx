import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import { useEffect, useRef } from 'react';
import type { FoundSet } from '../../../../../core/suggest/index.ts';
import { plainAxis } from '../../../parts/line-chart.ts';
import { useColors } from '../../../parts/use-colors.ts';

Chart.register(LinearScale, LineController, LineElement, PointElement);

export interface SetCurveProps {
  /** By number of bodies. */
  sets: readonly FoundSet[];
  /** Index of the chosen one. */
  chosen: number;
  onPick(index: number): void;
}

type Point = { x: number; y: number };

/** Bodies against what still goes through: worst penetration as a line, what shows through as a dashed one with squares. */
export function SetCurve({ sets, chosen, onPick }: SetCurveProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const colors = useColors();
  const chart = useRef<Chart<'line', Point[]> | null>(null);
  const pick = useRef(onPick);
  pick.current = onPick;
  useEffect(
    function createChart() {
      const axis = (text: string, color: string) => {
        const { ticks, ...rest } = plainAxis(colors, text, color);
        return { ...rest, min: 0, ticks: { ...ticks, maxTicksLimit: 5 } };
      };
      const across = plainAxis(colors, 'Bodies');
      chart.current = new Chart<'line', Point[]>(canvas.current!, {
        type: 'line',
        data: {
          datasets: [
            {
              data: [],
              yAxisID: 'mm',
              borderColor: colors.brick,
              backgroundColor: colors.brick,
              borderWidth: 1.5,
            },
            {
              data: [],
              yAxisID: 'area',
              borderColor: colors.teal,
              backgroundColor: colors.teal,
              borderWidth: 1.5,
              borderDash: [4, 3],
              pointStyle: 'rect',
            },
          ],
        },
        options: {
          animation: false,
          responsive: true,
          maintainAspectRatio: false,
          parsing: false,
          interaction: { mode: 'nearest', axis: 'x', intersect: false },
          onClick: (_event, elements) => elements[0] && pick.current(elements[0].index),
          scales: {
            x: {
              ...across,
              type: 'linear',
              ticks: { ...across.ticks, precision: 0 },
            },
            mm: { ...axis('Worst penetration, mm', colors.brick), position: 'left' },
            area: { ...axis('Shows through, cm²', colors.teal), position: 'right', grid: { display: false } },
          },
          plugins: { legend: { display: false }, tooltip: { enabled: false } },
        },
      });
      return () => chart.current?.destroy();
    },
    [colors],
  );
  useEffect(
    function showSets() {
      // In other colours it is another chart.
      void colors;
      const [depths, areas] = chart.current!.data.datasets;
      depths!.data = sets.map(({ bodies, penetration }) => ({ x: bodies.length, y: 1e3 * penetration }));
      areas!.data = sets.map(({ bodies, showThrough }) => ({ x: bodies.length, y: 1e4 * showThrough }));
      const radii = sets.map((_, i) => (i === chosen ? 5 : 2.5));
      depths!.pointRadius = radii;
      areas!.pointRadius = radii;
      chart.current!.update('none');
    },
    [sets, chosen, colors],
  );
  return (
    <div className="h-[170px] cursor-pointer" role="img" aria-label="Bodies against what still goes through">
      <canvas ref={canvas} />
    </div>
  );
}
