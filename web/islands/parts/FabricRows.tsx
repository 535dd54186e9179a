import { useState } from 'react';
import {
  FABRIC_GROUPS,
  FABRIC_KEYS,
  FABRIC_PARAMETERS,
  type FabricKey,
  type FabricParameter,
  type FabricSettings,
} from '../../../core/cloth/index.ts';
import { NumberRow } from './NumberRow.tsx';

export interface FabricRowsProps {
  settings: FabricSettings;
  /** What a row goes back to, and what counts as unchanged. */
  defaults: FabricSettings;
  /** Stored value, within its range. */
  onChange(key: FabricKey, value: number): void;
  /** What stands below the rows of a group, by its title. */
  notes?: Readonly<Record<string, React.ReactNode>>;
}

/** All settings of a fabric by groups. What one does is told beside its name; who goes by keyboard is told at the foot. */
export function FabricRows({ settings, defaults, onChange, notes = {} }: FabricRowsProps) {
  const [told, setTold] = useState<FabricKey | null>(null);
  return (
    <>
      {FABRIC_GROUPS.map((title) => {
        const keys = FABRIC_KEYS.filter((key) => FABRIC_PARAMETERS[key].group === title);
        const changed = keys.filter((key) => isChanged(key, settings, defaults));
        return (
          <section key={title} className="mt-3" aria-label={title}>
            <h2 className="heading mb-0.5 flex justify-between">
              {title}
              {changed.length > 0 && (
                <button
                  type="button"
                  className="text-teal"
                  title={`Back to the defaults of ${title.toLowerCase()}`}
                  onClick={() => {
                    for (const key of changed) onChange(key, defaults[key]);
                  }}
                >
                  {changed.length} changed
                </button>
              )}
            </h2>
            {keys.map((key) => (
              // biome-ignore lint/a11y/noStaticElementInteractions: only tells about the row within, which is reached by keyboard
              <div key={key} onFocus={() => setTold(key)} onBlur={() => setTold(null)}>
                <FabricRow
                  parameter={FABRIC_PARAMETERS[key]}
                  value={settings[key]}
                  defaultValue={defaults[key]}
                  onChange={(value) => onChange(key, value)}
                />
              </div>
            ))}
            {notes[title]}
          </section>
        );
      })}
      {told && <Told parameter={FABRIC_PARAMETERS[told]} defaultValue={defaults[told]} />}
    </>
  );
}

/** How many settings differ from what they go back to. */
export function countChanged(settings: FabricSettings, defaults: FabricSettings): number {
  return FABRIC_KEYS.filter((key) => isChanged(key, settings, defaults)).length;
}

function isChanged(key: FabricKey, settings: FabricSettings, defaults: FabricSettings): boolean {
  const { factor, step } = FABRIC_PARAMETERS[key];
  return Math.abs(settings[key] - defaults[key]) * factor > step / 2;
}

function FabricRow({
  parameter,
  value,
  defaultValue,
  onChange,
}: {
  parameter: FabricParameter;
  value: number;
  defaultValue: number;
  onChange(value: number): void;
}) {
  const { label, unit, factor, range, step, digits, isLogarithmic, isCount, effect } = parameter;
  const [least, most] = range;
  const set = (shown: number): void => {
    const stored = isCount ? Math.round(shown) : shown / factor;
    onChange(Math.min(most, Math.max(least, stored)));
  };
  return (
    <NumberRow
      label={label}
      unit={unit}
      value={value * factor}
      defaultValue={defaultValue * factor}
      min={least * factor}
      max={most * factor}
      step={step}
      digits={digits}
      hint={`${effect}. ${tellRange(parameter, defaultValue)}`}
      onChange={set}
      {...(isLogarithmic && { isLogarithmic })}
    />
  );
}

/** In the shown unit. */
function tellRange({ unit, factor, range, digits }: FabricParameter, defaultValue: number): string {
  const show = (value: number): string =>
    (value * factor).toLocaleString('en', { maximumFractionDigits: digits });
  return `${show(range[0])} to ${show(range[1])}${unit && ` ${unit}`}, usual ${show(defaultValue)}`;
}

function Told({ parameter, defaultValue }: { parameter: FabricParameter; defaultValue: number }) {
  const { label, effect } = parameter;
  return (
    <p
      className="sticky -bottom-3.5 -mx-4 mt-3 min-h-[78px] border-t border-line bg-panel px-4 py-2 text-xs text-soft"
      aria-live="polite"
    >
      <b className="text-ink">{label}</b> <span className="num">{tellRange(parameter, defaultValue)}</span>
      <br />
      {effect}
    </p>
  );
}
