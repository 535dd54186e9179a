import { CHANNELS, limitValue } from '../../core/reach/index.ts';
import type { Session } from './session.ts';
import type { Store } from './store.ts';

const RATIO = 1.15;
const RADII = { least: 0.005, most: 1 } as const;
/** Below so much (in the shown unit) a value changes by steps of this instead of by ratio: 0 is left again. */
const LEAST_STEP = { cm: 0.5, mm: 0.5, '%': 5, '×': 0.05 } as const;

/** Makes the brush larger or smaller. @param steps - Up or down. */
export function stepBrushRadius(session: Store<Session>, steps: number): void {
  const { brush } = session.state;
  const radius = Math.min(RADII.most, Math.max(RADII.least, brush.radius * RATIO ** steps));
  session.set({ brush: { ...brush, radius } });
}

/** Raises or lowers the brush's value, or the factor that it multiplies by. @param steps - Up or down. */
export function stepBrushValue(session: Store<Session>, steps: number): void {
  const { brush, channel } = session.state;
  if (brush.mode === 'multiply') {
    const factor = Math.max(0, Number((brush.factor + 0.05 * steps).toFixed(3)));
    session.set({ brush: { ...brush, factor } });
    return;
  }
  const { unit, perUnit } = CHANNELS[channel];
  const shown = brush.values[channel] * perUnit;
  const step = Math.max(LEAST_STEP[unit], Math.abs(shown) * (RATIO - 1));
  const next = Number((shown + step * steps).toFixed(unit === '×' ? 3 : 2)) / perUnit;
  const value = brush.mode === 'raise' ? next : limitValue(channel, next);
  session.set({ brush: { ...brush, values: { ...brush.values, [channel]: value } } });
}
