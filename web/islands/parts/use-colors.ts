import { useStore } from '../../state/store.ts';
import { type Colors, themeStore } from '../../state/theme.ts';

/** Colours of the theme that is shown, for what is drawn on a canvas; the component renders anew when the theme changes. */
export function useColors(): Colors {
  return useStore(themeStore, ({ colors }) => colors);
}
