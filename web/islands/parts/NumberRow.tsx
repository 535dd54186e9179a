import { RotateCcw } from 'lucide-react';
import { useEffect, useId, useRef } from 'react';
import { NumberField } from './NumberField.tsx';
import { Term } from './Term.tsx';

export interface NumberRowProps {
  label: string;
  /** In the shown unit. */
  value: number;
  unit: string;
  min: number;
  max: number;
  /** What can be typed, when it is more than the slider shows. */
  typedMin?: number;
  typedMax?: number;
  step: number;
  /** Digits behind the point. */
  digits: number;
  /** Shown as a way back when the value differs. */
  defaultValue?: number;
  hint?: string;
  /** The slider moves by ratio instead of by difference. */
  isLogarithmic?: boolean;
  onChange(value: number): void;
}

/** A number that is dragged, stepped and typed; it shows its unit and goes back to its default. */
export function NumberRow(props: NumberRowProps) {
  const { label, value, unit, min, max, step, digits, defaultValue, hint, onChange } = props;
  const { typedMin = min, typedMax = max } = props;
  const id = useId();
  const isChanged = defaultValue !== undefined && Math.abs(value - defaultValue) > step / 2;
  const share = toShare(props, value);
  const slider = useRef<HTMLInputElement>(null);
  useEffect(
    function fillSlider() {
      slider.current?.style.setProperty('--share', `${100 * share}%`);
    },
    [share],
  );
  return (
    <div className="grid grid-cols-[84px_1fr_82px] items-center gap-x-2 py-[3px]">
      <span className="flex items-center gap-1 leading-tight">
        {hint === undefined ? (
          <label htmlFor={id}>{label}</label>
        ) : (
          <Term meaning={hint}>
            <label htmlFor={id} className="term">
              {label}
            </label>
          </Term>
        )}
        {hint !== undefined && (
          <span id={`${id}-meaning`} className="sr-only">
            {hint}
          </span>
        )}
        {isChanged && (
          <button
            type="button"
            className="text-teal"
            title={`Back to ${defaultValue.toFixed(digits)} ${unit}`}
            aria-label={`${label} back to its default`}
            onClick={() => onChange(defaultValue)}
          >
            <RotateCcw size={11} />
          </button>
        )}
      </span>
      <input
        ref={slider}
        type="range"
        className="slider"
        aria-label={`${label} slider`}
        aria-valuetext={`${value.toFixed(digits)} ${unit}`.trim()}
        min={0}
        max={1000}
        value={Math.round(1000 * share)}
        onChange={(event) => onChange(fromShare(props, Number(event.target.value) / 1000))}
      />
      <NumberField
        id={id}
        describedBy={hint === undefined ? undefined : `${id}-meaning`}
        value={value}
        unit={unit}
        digits={digits}
        step={step}
        onCommit={(typed) => onChange(clamp(typed, typedMin, typedMax))}
      />
    </div>
  );
}

function clamp(value: number, min: number, max: number): number {
  return Math.min(max, Math.max(min, value));
}

/** A logarithmic slider starts at a thousandth of its top when its range starts at zero. */
function logLow({ min, max }: NumberRowProps): number {
  return min > 0 ? min : max / 10_000;
}

function toShare(props: NumberRowProps, value: number): number {
  const { min, max, isLogarithmic } = props;
  if (!isLogarithmic) return clamp((value - min) / (max - min), 0, 1);
  const low = logLow(props);
  return value <= low ? 0 : clamp(Math.log(value / low) / Math.log(max / low), 0, 1);
}

function fromShare(props: NumberRowProps, share: number): number {
  const { min, max, step, isLogarithmic } = props;
  if (!isLogarithmic) return clamp(min + Math.round((share * (max - min)) / step) * step, min, max);
  if (share === 0) return min;
  const low = logLow(props);
  return Number((low * (max / low) ** share).toPrecision(3));
}
