import { useState } from 'react';

export interface NumberFieldProps {
  id?: string;
  /** For a field without a label of its own. */
  label?: string;
  /** Id of what says more of it. */
  describedBy?: string | undefined;
  value: number;
  unit: string;
  digits: number;
  /** By how much the arrow keys change it; ten times with shift. Default 1. */
  step?: number;
  onCommit(value: number): void;
}

/** A number that is typed and stepped, with its unit. What is no number is not taken. */
export function NumberField({
  id,
  label,
  describedBy,
  value,
  unit,
  digits,
  step = 1,
  onCommit,
}: NumberFieldProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const commit = (text: string): void => {
    setDraft(null);
    const typed = Number(text.replace(',', '.'));
    if (text.trim() !== '' && Number.isFinite(typed)) onCommit(typed);
  };
  return (
    <span className="field num flex items-baseline gap-1 !px-2 text-xs">
      <input
        id={id}
        aria-label={label}
        aria-describedby={describedBy}
        className="w-full min-w-0 bg-transparent text-right outline-none"
        inputMode="decimal"
        value={draft ?? value.toFixed(digits)}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={(event) => draft !== null && commit(event.target.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          // Leaving it takes what was typed; the keyboard is the workbench's again.
          if (event.key === 'Enter') event.currentTarget.blur();
          else if (event.key === 'Escape') setDraft(null);
          else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
            event.preventDefault();
            setDraft(null);
            onCommit(value + (event.key === 'ArrowUp' ? step : -step) * (event.shiftKey ? 10 : 1));
          }
        }}
      />
      <span className="text-soft">{unit}</span>
    </span>
  );
}
