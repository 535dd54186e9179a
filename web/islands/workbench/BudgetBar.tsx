import { Popover } from 'radix-ui';
import { getScene, listGarments } from '../../../core/document/index.ts';
import { type RunTimes, sumTimes } from '../../../core/run/index.ts';
import { useStore } from '../../state/store.ts';
import { useDocument, useWorkbench } from '../../state/workbench.ts';
import type { PreviewStats } from '../../workers/preview-protocol.ts';
import { NumberRow } from '../parts/NumberRow.tsx';

const PARTS = [
  { key: 'stretch', label: 'Stretch', color: '#13696A' },
  { key: 'bend', label: 'Bend', color: '#3F8584' },
  { key: 'reach', label: 'Reach and tethers', color: '#8CB5AF' },
  { key: 'bodies', label: 'Bodies', color: '#8E86A6' },
  { key: 'self', label: 'Self-collision', color: '#5E5673' },
  { key: 'layers', label: 'Garments beneath', color: '#B9B19D' },
  { key: 'air', label: 'Air', color: '#9CB7C4' },
  { key: 'skinning', label: 'Skinning and binding', color: '#D9BF82' },
] as const satisfies { key: keyof RunTimes; label: string; color: string }[];

/** A slow frame takes so many times what a quick one does: the machine is busy, and the figure is rough. */
const SCATTERED = 2;

/** Measured cost of a simulated frame against the budget, split by what spends it. A click opens the figures. */
export function BudgetBar() {
  const { preview } = useWorkbench();
  const editor = useDocument();
  const stats = useStore(preview.store, (state) => state.stats);
  const { budgetMilliseconds: budget } = getScene(editor.document);
  const total = stats ? sumTimes(stats.times) : 0;
  const scale = 100 / Math.max(budget, total);
  const isOver = total > budget;
  const [quick, slow] = stats?.quickAndSlow ?? [0, 0];
  const isScattered = slow > SCATTERED * quick;
  return (
    <div className="flex items-center justify-end">
      <Popover.Root>
        <Popover.Trigger
          className="flex items-center gap-3 rounded-md px-2 py-1 hover:bg-paper"
          aria-label="Budget"
          title="Measured here, per simulated frame"
        >
          <span className="relative flex h-2.5 w-28 overflow-hidden rounded-full bg-[#e5e0d2]" aria-hidden>
            {stats &&
              PARTS.map(({ key, color }) => (
                <span key={key} style={{ width: `${stats.times[key] * scale}%`, background: color }} />
              ))}
            {isOver && (
              <span className="absolute inset-y-0 w-[2px] bg-brick" style={{ left: `${budget * scale}%` }} />
            )}
          </span>
          <span className="num" data-cost={total.toFixed(3)}>
            {isScattered && <span className="text-soft">about </span>}
            <b className={isOver ? 'text-brick' : ''}>{stats ? total.toFixed(2) : '–'}</b>
            <span className="text-soft"> / {budget.toFixed(2)} ms</span>
          </span>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content align="end" sideOffset={6} className="card z-50 w-[330px] bg-panel p-4 shadow-lg">
            <Figures stats={stats} />
            <div className="mt-3 border-t border-line pt-2">
              <NumberRow
                label="Budget"
                value={budget}
                unit="ms"
                min={0.05}
                max={16}
                step={0.05}
                digits={2}
                defaultValue={12}
                isLogarithmic
                onChange={(budgetMilliseconds) =>
                  editor.updateScene('Set the budget', { budgetMilliseconds })
                }
              />
            </div>
            <p className="mt-1 text-xs text-soft">
              One simulated frame (1/60 s) in this browser, when nothing disturbs it: the quick ones of the
              last three seconds. Drawing is not counted.
              {isScattered && (
                <>
                  {' '}
                  Frames took <span className="num">{quick.toFixed(2)}</span> to{' '}
                  <span className="num">{slow.toFixed(2)} ms</span>: this machine is busy with something else.
                </>
              )}
            </p>
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </div>
  );
}

function Figures({ stats }: { stats: PreviewStats | null }) {
  const editor = useDocument();
  if (!stats) return <p className="text-soft">Nothing is measured yet.</p>;
  return (
    <>
      <h2 className="font-semibold">What spends it</h2>
      <table className="mt-1.5 w-full">
        <tbody>
          {PARTS.filter(({ key }) => stats.times[key] > 0).map(({ key, label, color }) => (
            <Row key={key} label={label} color={color} value={stats.times[key]} />
          ))}
        </tbody>
      </table>
      <h2 className="mt-3 font-semibold">By garment</h2>
      <table className="mt-1.5 w-full">
        <tbody>
          {listGarments(editor.document).map((garment) => (
            <Row
              key={garment.id}
              label={garment.name}
              value={stats.garments.find(({ id }) => id === garment.id)?.milliseconds ?? 0}
            />
          ))}
        </tbody>
      </table>
      <p className="mt-2 text-xs text-soft">
        <span className="num">{stats.framesPerSecond}</span> simulated frames in the last second
        {stats.recoveredFrames > 0 && (
          <span className="text-brick">; {stats.recoveredFrames} broke and were put back</span>
        )}
      </p>
    </>
  );
}

function Row({ label, value, color }: { label: string; value: number; color?: string }) {
  return (
    <tr>
      <td className="py-0.5">
        {color && <span className="mr-2 inline-block size-2 rounded-full" style={{ background: color }} />}
        {label}
      </td>
      <td className="num text-right">{value.toFixed(3)} ms</td>
    </tr>
  );
}
