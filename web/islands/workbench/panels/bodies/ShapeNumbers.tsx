import { type BodyShape, getShapeDefinition, type ShapeNumber } from '../../../../../core/bodies/index.ts';
import { NumberRow } from '../../../parts/NumberRow.tsx';
import { TripleRow } from './TripleRow.tsx';

export interface ShapeNumbersProps {
  shape: BodyShape;
  /** @param field - What was changed, to make one step of a drag. */
  onChange(shape: BodyShape, field: string): void;
}

const UNITS = {
  m: { factor: 100, unit: 'cm' },
  rad: { factor: 180 / Math.PI, unit: '°' },
} as const;

const RANGES = {
  m: { min: 0.2, max: 60, typedMax: 1000, step: 0.1, isLogarithmic: true },
  rad: { min: -180, max: 180, step: 1 },
} as const;

/** All numbers of a shape, in its joint's own space. */
export function ShapeNumbers({ shape, onChange }: ShapeNumbersProps) {
  const rows = new Map<string, ShapeNumber<BodyShape>[]>();
  for (const number of getShapeDefinition(shape).listNumbers(shape)) {
    rows.set(number.label, [...(rows.get(number.label) ?? []), number]);
  }
  return (
    <div className="mt-2">
      {[...rows].map(([label, numbers]) => {
        const [first] = numbers as [ShapeNumber<BodyShape>];
        const { factor, unit } = UNITS[first.unit];
        return numbers.length > 1 ? (
          <TripleRow
            key={label}
            label={label}
            unit={unit}
            hint="In the joint's own space"
            values={numbers.map(({ value }) => factor * value)}
            onChange={(axis, value) => onChange(numbers[axis]!.change(value / factor), `${label} ${axis}`)}
          />
        ) : (
          <NumberRow
            key={label}
            label={label}
            value={factor * first.value}
            unit={unit}
            digits={1}
            {...RANGES[first.unit]}
            onChange={(value) => onChange(first.change(value / factor), label)}
          />
        );
      })}
    </div>
  );
}
