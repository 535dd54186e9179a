import { NumberRow } from '../../../parts/NumberRow.tsx';

/** What values are multiplied by. */
export function FactorRow({ value, onChange }: { value: number; onChange(factor: number): void }) {
  return (
    <NumberRow
      label="Factor"
      value={value}
      unit="×"
      min={0}
      max={3}
      typedMax={1000}
      step={0.05}
      digits={2}
      onChange={onChange}
    />
  );
}
