import { Undo2, X } from 'lucide-react';
import type { MeasureDefinition } from '../../../../core/trials/index.ts';
import { IconButton } from '../../parts/IconButton.tsx';
import { NumberField } from '../../parts/NumberField.tsx';

export interface LimitCellProps {
  measure: MeasureDefinition;
  /** For whom: "all garments", the name of one, or all characters of a project. */
  whose: string;
  /** What holds when nothing is said here: "the starting limit". */
  elsewhere: string;
  /** What holds, in the unit of the measure's values; null: no limit. */
  value: number | null;
  /** Whether it is said here, and not taken from elsewhere. */
  isOwn: boolean;
  /** Null: no limit; undefined: as elsewhere. */
  onChange(value: number | null | undefined): void;
}

/** One limit: typed, taken off, or taken from elsewhere again. */
export function LimitCell({ measure, whose, elsewhere, value, isOwn, onChange }: LimitCellProps) {
  const { label, unit, factor, digits, limit } = measure;
  const name = `Limit of ${label} for ${whose}`;
  return (
    <span className={`flex items-center gap-1 ${isOwn ? 'font-bold' : ''}`}>
      {value === null ? (
        <button
          type="button"
          className="btn btn-quiet w-[104px] !justify-end !px-2 !py-1 text-xs text-soft"
          aria-label={`${name}: set one`}
          onClick={() => onChange(limit ?? 1 / factor)}
        >
          no limit
        </button>
      ) : (
        <span className="w-[104px]">
          <NumberField
            label={name}
            value={factor * value}
            unit={unit}
            digits={digits}
            step={digits > 1 ? 0.1 : 1}
            onCommit={(typed) => onChange(Math.max(0, typed) / factor)}
          />
        </span>
      )}
      <IconButton
        label={`${name}: none`}
        title="No limit"
        icon={<X size={12} />}
        className="btn-quiet !px-0.5 !py-0.5"
        isDisabled={value === null}
        onClick={() => onChange(null)}
      />
      <IconButton
        label={`${name}: back`}
        title={`Back to ${elsewhere}`}
        icon={<Undo2 size={12} />}
        className="btn-quiet !px-0.5 !py-0.5"
        isDisabled={!isOwn}
        onClick={() => onChange(undefined)}
      />
    </span>
  );
}
