import { Chart, Legend, LinearScale, LineController, LineElement, PointElement, Tooltip } from 'chart.js';
import { useEffect, useRef } from 'react';
import { type CrowdMember, countFitting, listDistances } from '../../../core/crowd/index.ts';
import type { ProjectCrowd } from '../../wire/levels.ts';
import { PLAIN_CHART, PLAIN_LINE, plainAxis } from '../parts/line-chart.ts';
import { useColors } from '../parts/use-colors.ts';

Chart.register(LineController, LineElement, PointElement, LinearScale, Tooltip, Legend);

/** From near to far. */
const LOOKS = ['plum', 'teal', 'marigold', 'violet', 'moss', 'soft', 'rust', 'steel', 'umber'] as const;
const DASHES = [[], [6, 3], [2, 2], [8, 3, 2, 3]];
/** The chart shows so many characters at least, and at most. */
const SHOWN = { least: 4, most: 60 } as const;

/** What some number of a character costs, a line for each distance, with the budget. */
export function CrowdChart({ member, crowd }: { member: CrowdMember; crowd: ProjectCrowd }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const colors = useColors();
  useEffect(
    function drawChart() {
      const { settings, target } = crowd;
      const { budget, cores } = target;
      const fits = member.bands.map((_, b) => countFitting(member, b, target)).filter(Number.isFinite);
      // Of the last but one: where it is not simulated any more, it costs next to nothing.
      const most = Math.min(
        SHOWN.most,
        Math.max(SHOWN.least, Math.ceil(1.3 * (fits.at(-2) ?? fits.at(-1) ?? 0))),
      );
      const counts = Array.from({ length: most + 1 }, (_, n) => n);
      const distances = listDistances(member, settings.camera);
      const across = plainAxis(colors, `number of ${member.name}, all at one distance`);
      const line = { ...PLAIN_LINE, borderWidth: 1.75 };
      const chart = new Chart(canvas.current!, {
        type: 'line',
        data: {
          datasets: [
            ...member.bands.map(({ cost }, b) => ({
              label: `${distances[b]!.near.toFixed(1)} m`,
              data: counts.map((n) => ({ x: n, y: Math.ceil(n / cores) * cost })),
              borderColor: colors[LOOKS[b % LOOKS.length]!],
              borderDash: DASHES[b % DASHES.length]!,
              ...line,
            })),
            {
              label: 'budget',
              data: [
                { x: 0, y: budget },
                { x: most, y: budget },
              ],
              borderColor: colors.brick,
              borderDash: [5, 4],
              ...line,
            },
          ],
        },
        options: {
          ...PLAIN_CHART,
          scales: {
            x: {
              ...across,
              ticks: { ...across.ticks, precision: 0 },
              type: 'linear',
              min: 0,
              max: most,
            },
            y: { ...plainAxis(colors, 'ms of a frame'), min: 0, max: 2.5 * budget },
          },
          plugins: {
            legend: { position: 'right', labels: { boxWidth: 22, boxHeight: 1, color: colors.soft } },
            tooltip: {
              callbacks: {
                title: (items) => `${items[0]?.parsed.x ?? 0} of ${member.name}`,
                label: ({ dataset, parsed }) => `${dataset.label}: ${(parsed.y ?? 0).toFixed(2)} ms`,
              },
            },
          },
        },
      });
      return () => chart.destroy();
    },
    [member, crowd, colors],
  );
  return (
    <div className="mt-3 h-[240px]">
      <canvas ref={canvas} role="img" aria-label={`Cost of a number of ${member.name} by distance`} />
    </div>
  );
}
