import type { CaseRows, MeasureDefinition } from '../../../../../core/trials/index.ts';
import { isTold, type TrialCell, type TrialLine } from './judge-trial.ts';
import { Sparkline } from './Sparkline.tsx';

export interface TrialGridProps {
  lines: readonly TrialLine[];
  rows: readonly CaseRows[];
  measures: readonly MeasureDefinition[];
  /** Strictest limit of any garment by measure, in the measure's own unit. */
  limits: ReadonlyMap<string, number>;
  picked: { index: number; key: string } | null;
  hasEarlier: boolean;
  onPick(line: TrialLine, cell: TrialCell): void;
}

/** Cases down, measures across: each cell has the worst value and how it went. A click goes there. */
export function TrialGrid({ lines, rows, measures, limits, picked, hasEarlier, onPick }: TrialGridProps) {
  return (
    <table className="w-full table-fixed border-collapse text-xs" aria-label="Trial">
      <thead className="sticky top-0 z-10 bg-panel text-soft">
        <tr>
          <th className="pb-1 text-left align-bottom font-medium">Run</th>
          {measures.map((measure) => (
            <th
              key={measure.key}
              className="w-[68px] pb-1 pl-1 text-right align-bottom leading-tight font-medium"
              title={measure.effect}
            >
              {measure.label}
              <span className="block text-[10.5px] leading-3">
                {tellLimit(measure, limits.get(measure.key) ?? null)}
              </span>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <tr
            key={line.index}
            className="border-t border-line [content-visibility:auto]"
            data-passes={line.passes}
          >
            <th className="py-1 pr-2 text-left align-top font-normal" scope="row">
              <span className="line-clamp-2 leading-tight break-words" title={line.name}>
                {line.name}
              </span>
              <span className={`text-[11px] ${line.passes ? 'text-moss' : 'font-semibold text-brick'}`}>
                {line.passes ? '✓ passes' : '✕ fails'}
              </span>
            </th>
            {line.cells.map((cell, c) => (
              <td key={cell.key} className="p-0 align-top">
                <GridCell
                  line={line}
                  cell={cell}
                  measure={measures[c]!}
                  row={rows[line.index]!.whole[cell.key]}
                  top={limits.get(cell.key) ?? 0}
                  isPicked={picked?.index === line.index && picked.key === cell.key}
                  hasEarlier={hasEarlier}
                  onPick={() => onPick(line, cell)}
                />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

interface GridCellProps {
  line: TrialLine;
  cell: TrialCell;
  measure: MeasureDefinition;
  row: Float32Array;
  top: number;
  isPicked: boolean;
  hasEarlier: boolean;
  onPick(): void;
}

function GridCell({ line, cell, measure, row, top, isPicked, hasEarlier, onPick }: GridCellProps) {
  const { worst, mean, told: shown, isOver, time, garmentName } = cell;
  if (worst === null || shown === null)
    return <span className="block py-1 pr-1 text-right text-soft">–</span>;
  const write = (value: number): string => (measure.factor * value).toFixed(measure.digits);
  const unit = measure.unit && ` ${measure.unit}`;
  const told = `${line.name}: ${measure.label} ${write(shown)}${unit}${isOver ? ', over its limit' : ''}`;
  return (
    <button
      type="button"
      className={`block w-full rounded-sm px-1 py-1 text-right hover:bg-paper ${isPicked ? 'bg-teal-wash outline-1 outline-teal' : ''} ${isOver ? 'text-brick' : 'text-soft'}`}
      aria-label={told}
      title={`Worst ${write(worst)}${unit} at ${time.toFixed(2)} s${garmentName ? `, ${garmentName}` : ''}; mean ${write(mean!)}${unit}. Click: go there`}
      onClick={onPick}
    >
      <span className={`num ${isOver ? 'font-bold' : 'text-ink'}`}>
        {isOver && '! '}
        {write(shown)}
      </span>
      {hasEarlier && <Change change={cell.change} measure={measure} />}
      <Sparkline row={row} top={top} />
    </button>
  );
}

/** By how much it is another than in the earlier trial; of contacts neither is better. */
function Change({ change, measure }: { change: number | null; measure: MeasureDefinition }) {
  if (change === null) return <span className="block text-[10.5px] text-soft">new</span>;
  if (!isTold(change, measure)) return <span className="block text-[10.5px] text-soft">same</span>;
  const isJudged = measure.key !== 'contacts';
  const look = !isJudged ? 'text-soft' : change < 0 ? 'text-moss' : 'text-brick';
  const value = (measure.factor * Math.abs(change)).toFixed(measure.digits);
  return (
    <span className={`num block text-[10.5px] ${look}`}>
      {change < 0 ? '▼ −' : '▲ +'}
      {value}
    </span>
  );
}

function tellLimit({ unit, factor, digits, isPriced }: MeasureDefinition, limit: number | null): string {
  if (limit === null) return isPriced ? `mean, ${unit}` : unit;
  return `≤ ${Number((factor * limit).toFixed(digits))} ${unit}`;
}
