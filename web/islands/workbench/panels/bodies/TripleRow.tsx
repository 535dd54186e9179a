export interface TripleRowProps {
  label: string;
  /** In the shown unit. */
  values: readonly number[];
  unit: string;
  hint?: string;
  onChange(axis: number, value: number): void;
}

/** Three numbers of a place, a size or a turn, each to be typed. */
export function TripleRow({ label, values, unit, hint, onChange }: TripleRowProps) {
  return (
    <div className="grid grid-cols-[84px_1fr_1fr_1fr] items-center gap-1 py-[3px]">
      <span title={hint}>
        {label}, {unit}
      </span>
      {values.map((value, axis) => (
        <input
          key={`${'xyz'[axis]}-${value}`}
          className="field num !px-1.5 text-right text-xs"
          inputMode="decimal"
          aria-label={`${label} ${'xyz'[axis]}`}
          defaultValue={write(value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter') event.currentTarget.blur();
          }}
          onBlur={({ target }) => {
            const typed = Number(target.value.replace(',', '.'));
            if (Number.isFinite(typed) && target.value !== write(value)) onChange(axis, typed);
            else target.value = write(value);
          }}
        />
      ))}
    </div>
  );
}

/** With one digit, and no minus before nothing. */
function write(value: number): string {
  return (Math.round(10 * value) / 10 + 0).toFixed(1);
}
