import { CHANNELS, type ChannelKind } from '../../../../../core/reach/index.ts';
import { NumberRow } from '../../../parts/NumberRow.tsx';

/** The slider's top, in the shown unit; more can be typed where the channel has no end. */
const SLIDER_TOPS: Readonly<Record<ChannelKind, number>> = {
  maxDistance: 200,
  inwardLimit: 30,
  limitRoundness: 300,
  lining: 100,
  stiffness: 10,
  damping: 10,
  drag: 10,
  thickness: 50,
  roundedEdge: 100,
};
const MOST_TYPED = 1e6;

export interface ValueRowProps {
  channel: ChannelKind;
  label: string;
  /** Metres, a share or a factor. */
  value: number;
  hint?: string;
  /** Also below the channel's range, for amounts that are added. */
  isSigned?: boolean;
  onChange(value: number): void;
}

/** A value of a channel in its own unit. */
export function ValueRow({ channel, label, value, hint, isSigned = false, onChange }: ValueRowProps) {
  const { unit, perUnit, range } = CHANNELS[channel];
  const top = SLIDER_TOPS[channel];
  const least = range[0] * perUnit;
  const most = Math.min(MOST_TYPED, range[1] * perUnit);
  return (
    <NumberRow
      label={label}
      value={value * perUnit}
      unit={unit}
      min={isSigned ? -top : least}
      max={top}
      typedMin={isSigned ? -most : least}
      typedMax={most}
      step={unit === '×' ? 0.1 : 0.5}
      digits={unit === '×' ? 2 : 1}
      isLogarithmic={channel === 'maxDistance' && !isSigned}
      {...(hint !== undefined && { hint })}
      onChange={(shown) => onChange(shown / perUnit)}
    />
  );
}
