import type { ChartOptions } from 'chart.js';

/** A line without marks. */
export const PLAIN_LINE = { pointRadius: 0, fill: false } as const;

/** A chart that stands still, fills its place, and tells what is over the pointer. */
export const PLAIN_CHART = {
  animation: false,
  responsive: true,
  maintainAspectRatio: false,
  interaction: { mode: 'nearest', axis: 'x', intersect: false },
} as const satisfies ChartOptions<'line'>;
