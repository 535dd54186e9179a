export interface ToolChipProps {
  label: string;
  isOn: boolean;
  hint?: string;
  onChoose(): void;
}

/** One of several choices of which one holds. */
export function ToolChip({ label, isOn, hint, onChoose }: ToolChipProps) {
  return (
    <button type="button" className="chip" aria-pressed={isOn} title={hint} onClick={onChoose}>
      {label}
    </button>
  );
}
