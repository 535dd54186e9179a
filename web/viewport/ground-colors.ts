import { Color } from 'three';
import { themeStore } from '../state/theme.ts';

/**
 * Colours of what is drawn over the ground as well as over the character: dark by day, light at dusk. Materials hold
 * these very objects, and change with the theme.
 */
export const GROUND_COLORS = { ink: new Color(), teal: new Color(), plum: new Color(), dots: new Color() };

/** Of the floor: they are part of the ground, not ink on it. */
const DOTS = { day: '#403C36', dusk: '#8D929C' } as const;

function follow(): void {
  const { colors, isDusk } = themeStore.state;
  for (const name of ['ink', 'teal', 'plum'] as const) GROUND_COLORS[name].setStyle(colors[name]);
  GROUND_COLORS.dots.set(isDusk ? DOTS.dusk : DOTS.day);
}

follow();
themeStore.subscribe(follow);
