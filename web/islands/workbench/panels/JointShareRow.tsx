import { Pin } from 'lucide-react';
import { ToggleChip } from '../../parts/ToggleChip.tsx';

export interface JointShareRowProps {
  name: string;
  /** Share of the garment's weight, 0 to 1, and the largest of the list, which fills its bar. */
  share: number;
  mostShare: number;
  /** Of the bar, CSS. */
  color: string;
  isKept: boolean;
  onToggleKept(): void;
  /** Without it the row cannot be chosen. */
  onChoose?: () => void;
  isChosen?: boolean;
}

/** A joint as a bar of its share of the weight, with a pin that keeps its weight as it is. */
export function JointShareRow(props: JointShareRowProps) {
  const { name, share, mostShare, color, isKept, onToggleKept, onChoose, isChosen = false } = props;
  const bar = (
    <>
      <span
        className="absolute inset-y-0 left-0 rounded-[4px]"
        style={{ width: `${(100 * share) / Math.max(mostShare, 1e-9)}%`, background: color, opacity: 0.4 }}
        aria-hidden
      />
      <span className="relative flex items-baseline gap-1.5 px-1.5">
        <span className={`min-w-0 flex-1 truncate text-left ${isChosen ? 'font-semibold' : ''}`}>{name}</span>
        <span className="num text-xs">{(100 * share).toFixed(1)} %</span>
      </span>
    </>
  );
  const look = `relative min-w-0 flex-1 rounded-[4px] py-[2px] ${isChosen ? 'bg-surface outline-2 -outline-offset-1 outline-teal' : 'bg-paper'}`;
  return (
    <li className="flex items-center gap-1 py-[1.5px]">
      <ToggleChip
        label={`Keep weight of ${name}`}
        hint={isKept ? 'Pinned: its weight stays as it is' : 'Pin its weight'}
        isOn={isKept}
        onToggle={onToggleKept}
        className="flex size-6 shrink-0 items-center justify-center rounded-md text-faint hover:text-ink data-[state=on]:text-teal"
      >
        <Pin size={13} fill={isKept ? 'currentColor' : 'none'} className={isKept ? '' : 'rotate-45'} />
      </ToggleChip>
      {onChoose ? (
        <ToggleChip label={name} isOn={isChosen} onToggle={onChoose} className={look}>
          {bar}
        </ToggleChip>
      ) : (
        <div className={look}>{bar}</div>
      )}
    </li>
  );
}
