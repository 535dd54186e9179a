import { NumberRow } from '../../../parts/NumberRow.tsx';

export interface MarginRowProps {
  hint: string;
  /** m */
  margin: number;
  onChange(margin: number): void;
}

/** How much is added to a body all around. */
export function MarginRow({ hint, margin, onChange }: MarginRowProps) {
  return (
    <NumberRow
      label="Margin"
      hint={hint}
      value={1000 * margin}
      unit="mm"
      min={0}
      max={30}
      typedMax={100}
      step={0.5}
      digits={1}
      defaultValue={0}
      onChange={(mm) => onChange(mm / 1000)}
    />
  );
}
