import { NumberRow } from './NumberRow.tsx';

export interface PercentRowProps {
  label: string;
  /** A share, 0 to 1. */
  value: number;
  /** Percent. Default 1. */
  least?: number;
  step?: number;
  hint?: string;
  onChange(share: number): void;
}

/** A share, shown in percent. */
export function PercentRow({ label, value, least = 1, step = 1, hint, onChange }: PercentRowProps) {
  return (
    <NumberRow
      label={label}
      value={100 * value}
      unit="%"
      min={least}
      max={100}
      step={step}
      digits={0}
      {...(hint !== undefined && { hint })}
      onChange={(percent) => onChange(percent / 100)}
    />
  );
}
