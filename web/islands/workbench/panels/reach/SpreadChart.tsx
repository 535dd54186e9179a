import { BarController, BarElement, CategoryScale, Chart, LinearScale } from 'chart.js';
import { useEffect, useRef } from 'react';
import { CHANNELS, type ChannelKind } from '../../../../../core/reach/index.ts';
import { writeValue } from '../../../../state/legend.ts';
import { getReachColor } from '../../../../viewport/reach-colors.ts';

Chart.register(BarController, BarElement, CategoryScale, LinearScale);

const BINS = 24;

export interface SpreadChartProps {
  channel: ChannelKind;
  values: Float32Array;
  /** Changes when the values do: they are written into in place. */
  revision: number;
  /** Of the legend. */
  top: number;
}

/** How many points have which value, in the colours of the map; the last bar counts all beyond the legend, too. */
export function SpreadChart({ channel, values, revision, top }: SpreadChartProps) {
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
  useEffect(
    function showBins() {
      void revision;
      const bins = new Array<number>(BINS).fill(0);
      for (const value of values) bins[Math.min(BINS - 1, Math.floor((value / top) * BINS))]!++;
      // Single points would not be seen beside thousands.
      chart.current!.data.datasets[0]!.data = bins.map((count) => Math.sqrt(count));
      chart.current!.update('none');
    },
    [values, revision, top],
  );
  return (
    <>
      <div className="mt-1 h-11">
        <canvas ref={canvas} />
      </div>
      <div className="num flex justify-between text-xs text-soft">
        <span>0</span>
        <span>
          {writeValue(channel, top)} {CHANNELS[channel].unit}
        </span>
      </div>
    </>
  );
}
