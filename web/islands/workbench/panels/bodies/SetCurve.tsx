import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import { useEffect, useRef } from 'react';
import type { FoundSet } from '../../../../../core/suggest/index.ts';

Chart.register(LinearScale, LineController, LineElement, PointElement);

export interface SetCurveProps {
  /** By number of bodies. */
  sets: readonly FoundSet[];
  /** Index of the chosen one. */
  chosen: number;
  onPick(index: number): void;
}

const TEAL = '#13696A';
const BRICK = '#AE3A2C';
const SOFT = '#66645C';
const LINE = '#DDD7C9';

type Point = { x: number; y: number };

/** Bodies against what still goes through: worst penetration as a line, what shows through as a dashed one with squares. */
export function SetCurve({ sets, chosen, onPick }: SetCurveProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart<'line', Point[]> | null>(null);
  const pick = useRef(onPick);
  pick.current = onPick;
  useEffect(function createChart() {
    const axis = (text: string, color: string) => ({
      min: 0,
      title: { display: true, text, color, font: { size: 11 } },
      ticks: { color: SOFT, font: { size: 10 }, maxTicksLimit: 5 },
    });
    chart.current = new Chart<'line', Point[]>(canvas.current!, {
      type: 'line',
      data: {
        datasets: [
          { data: [], yAxisID: 'mm', borderColor: BRICK, backgroundColor: BRICK, borderWidth: 1.5 },
          {
            data: [],
            yAxisID: 'area',
            borderColor: TEAL,
            backgroundColor: TEAL,
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
            type: 'linear',
            title: { display: true, text: 'Bodies', color: SOFT, font: { size: 11 } },
            ticks: { color: SOFT, font: { size: 10 }, precision: 0 },
            grid: { color: LINE },
          },
          mm: { ...axis('Worst penetration, mm', BRICK), position: 'left', grid: { color: LINE } },
          area: { ...axis('Shows through, cm²', TEAL), position: 'right', grid: { display: false } },
        },
        plugins: { legend: { display: false }, tooltip: { enabled: false } },
      },
    });
    return () => chart.current?.destroy();
  }, []);
  useEffect(
    function showSets() {
      const [depths, areas] = chart.current!.data.datasets;
      depths!.data = sets.map(({ bodies, penetration }) => ({ x: bodies.length, y: 1e3 * penetration }));
      areas!.data = sets.map(({ bodies, showThrough }) => ({ x: bodies.length, y: 1e4 * showThrough }));
      const radii = sets.map((_, i) => (i === chosen ? 5 : 2.5));
      depths!.pointRadius = radii;
      areas!.pointRadius = radii;
      chart.current!.update('none');
    },
    [sets, chosen],
  );
  return (
    <div className="h-[170px] cursor-pointer" role="img" aria-label="Bodies against what still goes through">
      <canvas ref={canvas} />
    </div>
  );
}
