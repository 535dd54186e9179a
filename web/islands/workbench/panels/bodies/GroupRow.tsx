export interface GroupRowProps {
  /** From 1. */
  group: number;
  /** Groups that there are. */
  count: number;
  onChange(group: number): void;
}

/** The collision group of a body. */
export function GroupRow({ group, count, onChange }: GroupRowProps) {
  return (
    <label
      className="grid grid-cols-[84px_1fr] items-center py-[3px]"
      title="Garments choose the groups that they meet"
    >
      Group
      <select className="field" value={group} onChange={(event) => onChange(Number(event.target.value))}>
        {Array.from({ length: count }, (_, i) => i + 1).map((each) => (
          <option key={each} value={each}>
            {each}
          </option>
        ))}
      </select>
    </label>
  );
}
