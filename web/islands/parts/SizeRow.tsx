import { NumberRow } from './NumberRow.tsx';

export interface SizeRowProps {
  label: string;
  /** Metres. */
  value: number;
  /** Centimetres. Default 50. */
  most?: number;
  hint?: string;
  onChange(metres: number): void;
}

/** The size of a brush, or how far something reaches along the cloth. */
export function SizeRow({ label, value, most = 50, hint, onChange }: SizeRowProps) {
  return (
    <NumberRow
      label={label}
      value={100 * value}
      unit="cm"
      min={0.5}
      max={most}
      step={0.5}
      digits={1}
      isLogarithmic
      {...(hint !== undefined && { hint })}
      onChange={(cm) => onChange(cm / 100)}
    />
  );
}
