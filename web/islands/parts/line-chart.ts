import type { ChartOptions } from 'chart.js';
import type { Colors } from '../../state/theme.ts';

/** A line without marks. */
export const PLAIN_LINE = { pointRadius: 0, fill: false } as const;

/** A chart that stands still, fills its place, and tells what is over the pointer. */
export const PLAIN_CHART = {
  animation: false,
  responsive: true,
  maintainAspectRatio: false,
  interaction: { mode: 'nearest', axis: 'x', intersect: false },
} as const satisfies ChartOptions<'line'>;

/** How an axis is written in the colours of the theme. @param text - Beside it. */
export function plainAxis({ soft, line }: Colors, text: string, color = soft) {
  return {
    grid: { color: line },
    border: { color: line },
    title: { display: text !== '', text, color, font: { size: 11 } },
    ticks: { color: soft, font: { size: 10 } },
  };
}
