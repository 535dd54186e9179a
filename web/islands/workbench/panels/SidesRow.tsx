import type { SidesVerdict } from '../../../../core/mesh/index.ts';
import type { Sides } from '../../../../core/steps/index.ts';
import { Choice } from '../../parts/Choice.tsx';

const OPTIONS = [
  { value: 'outer', label: 'Outer side', hint: 'The inner side follows it' },
  { value: 'both', label: 'Both sides', hint: 'Both are simulated' },
] as const;

export interface SidesRowProps {
  /** Whether what the mesh is made over has two sides; with one there is nothing to choose. */
  verdict: SidesVerdict;
  value: Sides;
  onChange(sides: Sides): void;
}

/** Which sides of a two-sided garment the sim mesh stands for. Asks when it is not certain that there are two. */
export function SidesRow({ verdict, value, onChange }: SidesRowProps) {
  if (verdict === 'one' && value === 'judged') return null;
  const shown = value === 'judged' ? (verdict === 'two' ? 'outer' : 'both') : value;
  return (
    <div className="my-1.5">
      <Choice
        label="Sides that are simulated"
        look="cells"
        value={shown}
        options={OPTIONS}
        onChange={(sides) => onChange(sides)}
      />
      {verdict === 'unsure' && value === 'judged' && (
        <p className="mt-1 border-l-[3px] border-marigold bg-surface px-2 py-1 text-xs">
          This may be cloth with an outer and an inner side, or just thin. Both are kept until you choose.
        </p>
      )}
    </div>
  );
}
