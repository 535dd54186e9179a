import { Eye } from 'lucide-react';
import { listGarments, type MeasureKey } from '../../../../../core/document/index.ts';
import { isSmooth, type LevelBand, limitAtSize } from '../../../../../core/levels/index.ts';
import { getMeasure, resolveAllLimits } from '../../../../../core/trials/index.ts';
import { useStore } from '../../../../state/store.ts';
import { useBudget } from '../../../../state/use-budget.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import type { MeasuredBand } from '../../../../wire/levels.ts';
import { ToggleChip } from '../../../parts/ToggleChip.tsx';

const MEASURED = ['showThrough', 'penetration', 'stretch', 'jitter'] as const satisfies readonly MeasureKey[];

/** Every size at which garments are at other levels: what it costs and looks like; a button holds it in the viewport. */
export function SizesTable() {
  const { levels, targets } = useWorkbench();
  const { document } = useDocument();
  const { heldPixels, isByView } = useStore(levels.store, (state) => state);
  useStore(targets.store, (state) => state.target);
  const { budget } = useBudget();
  const bands = levels.listBands();
  const limits = [...resolveAllLimits(document).values()];
  const held = heldPixels === null ? -1 : bands.findIndex(({ from }) => heldPixels >= from);
  return (
    <table className="mt-3 w-full table-fixed border-collapse text-xs" aria-label="Sizes on the screen">
      <thead className="text-soft">
        <tr className="[&>th]:pb-1 [&>th]:text-right [&>th]:align-bottom [&>th]:font-medium">
          <th className="w-[112px] !text-left">Height on screen</th>
          <th title="Of a frame, on the mean of the clips that were played">Cost</th>
          {MEASURED.map((key) => {
            const { label, unit, effect } = getMeasure(key);
            return (
              <th key={key} title={`${effect}: the worst frame`}>
                <span className="block first-letter:uppercase">{label}</span>
                <span className="text-[10.5px]">{unit}</span>
              </th>
            );
          })}
          <th title="Shaking while it goes over from the size above, against what the garments do by themselves">
            Switch
          </th>
          <th className="w-[76px]">
            <ToggleChip
              label="By the view"
              className="chip !px-1.5 !py-0 text-[11px] whitespace-nowrap"
              hint="The level follows how large the character is in the viewport: zoom away and watch"
              isOn={isByView}
              onToggle={(isOn) => levels.setByView(isOn)}
            />
          </th>
        </tr>
      </thead>
      <tbody>
        {bands.map((band, b) => {
          const figures = levels.findFigures(band);
          return (
            <tr
              key={band.below}
              className={`border-t border-line ${held === b ? 'bg-teal-wash' : ''}`}
              data-band={b}
              data-cost={figures?.cost.mean}
            >
              <th className="py-1 text-left font-normal" scope="row">
                <span className="num">{tellBand(band)}</span>
                <span className="block text-[10.5px] leading-3 text-soft">
                  {tellLevels(band, listGarments(document).length)}
                </span>
                {figures?.faults.map((fault) => (
                  <span key={fault} className="block text-[10.5px] leading-3 text-brick" title={fault}>
                    ! a mesh could not be made
                  </span>
                ))}
              </th>
              <td
                className={`num text-right ${figures && figures.cost.mean > budget ? 'font-bold text-brick' : ''}`}
                title={
                  figures
                    ? `95 % of the frames below ${figures.cost.p95.toFixed(2)} ms, the worst ${figures.cost.worst.toFixed(2)} ms`
                    : undefined
                }
              >
                {figures ? `${figures.cost.mean.toFixed(2)} ms` : '–'}
              </td>
              {MEASURED.map((key) => (
                <Worst
                  key={key}
                  measureKey={key}
                  value={figures?.worst[key]}
                  limit={limitAtSize(
                    key,
                    Math.min(...limits.map((each) => each[key] ?? Number.POSITIVE_INFINITY)),
                    band.below,
                  )}
                />
              ))}
              <SwitchCell figures={figures} isFirst={b === 0} />
              <td className="py-0.5 text-right">
                <ToggleChip
                  label={`Hold ${tellBand(band)}`}
                  className="chip !px-2 !py-0 text-xs"
                  hint="Look at it in the viewport, at any distance"
                  isOn={held === b}
                  onToggle={(isOn) => levels.hold(isOn ? band.from : null)}
                >
                  <span className="flex items-center gap-1">
                    <Eye size={12} /> {held === b ? 'Held' : 'Hold'}
                  </span>
                </ToggleChip>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function Worst({
  measureKey,
  value,
  limit,
}: {
  measureKey: MeasureKey;
  value: number | undefined;
  limit: number;
}) {
  if (value === undefined) return <td className="text-right text-soft">–</td>;
  const { factor, digits, unit } = getMeasure(measureKey);
  const isOver = value > limit;
  const told = Number.isFinite(limit)
    ? `Limit at this size ${(factor * limit).toFixed(digits)} ${unit}: as many pixels as the limit allows near by`
    : undefined;
  return (
    <td title={told} className={`num text-right ${isOver ? 'font-bold text-brick' : ''}`}>
      {isOver && '! '}
      {(factor * value).toFixed(digits)}
    </td>
  );
}

/** Whether going over from the size above shows. */
function SwitchCell({ figures, isFirst }: { figures: MeasuredBand | null; isFirst: boolean }) {
  const found = figures?.switchTo;
  if (isFirst || !found) return <td className="text-right text-soft">–</td>;
  const { unit, factor, digits } = getMeasure('jitter');
  const tell = (value: number): string => `${(factor * value).toFixed(digits)} ${unit}`;
  return (
    <td
      className={`text-right ${isSmooth(found) ? 'text-moss' : 'font-bold text-brick'}`}
      title={`Shakes by ${tell(found.jitter)} while it goes over; by themselves the two shake by up to ${tell(found.ownJitter)}. Both are simulated then: ${found.cost.toFixed(2)} ms`}
    >
      {isSmooth(found) ? '✓ smooth' : '! shows'}
    </td>
  );
}

function tellBand({ below, from }: LevelBand): string {
  const [low, high] = [Math.round(from), Math.round(below)];
  if (from === 0) return `below ${high} px`;
  return Number.isFinite(below) ? `${low} to ${high} px` : `from ${low} px`;
}

/** How many garments are at which kind of level. */
function tellLevels({ levels }: LevelBand, garments: number): string {
  const all = [...levels.values()];
  const off = all.filter(({ blend }) => blend === 0).length;
  if (levels.size === 0) return 'as they are';
  if (off === garments) return 'all off';
  return [`${levels.size - off} of ${garments} coarser`, ...(off > 0 ? [`${off} off`] : [])].join(', ');
}
