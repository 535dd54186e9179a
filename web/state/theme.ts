import { Store } from './store.ts';

/** Day and dusk as the system has them, or one of both. */
export type Theme = 'system' | 'day' | 'dusk';

/** Colours of the stylesheet that charts and the viewport draw with. */
export const COLOR_NAMES = [
  'panel',
  'line',
  'rim',
  'ink',
  'soft',
  'teal',
  'moss',
  'marigold',
  'brick',
  'plum',
  'violet',
  'rust',
  'steel',
  'umber',
] as const;
export type ColorName = (typeof COLOR_NAMES)[number];
/** As `rgb(…)`, of the theme that is shown. */
export type Colors = Readonly<Record<ColorName, string>>;

interface Shown {
  theme: Theme;
  isDusk: boolean;
  colors: Colors;
}

/** A year, s. */
const KEPT_FOR = 365 * 24 * 3600;
/** Null where there is no page: in tests of what draws. */
const SYSTEM = globalThis.matchMedia?.('(prefers-color-scheme: dark)') ?? null;

/** The theme that is shown and its colours. */
export const themeStore = new Store<Shown>(readShown());

SYSTEM?.addEventListener('change', () => themeStore.set(readShown()));

/** Shows a theme on this page now and on every page from now on: a cookie, so that a page comes in it at once. */
export function setTheme(theme: Theme): void {
  const { dataset } = document.documentElement;
  if (theme === 'system') delete dataset.theme;
  else dataset.theme = theme;
  // biome-ignore lint/suspicious/noDocumentCookie: the cookie store is not in every browser
  document.cookie = `theme=${theme}; path=/; max-age=${KEPT_FOR}; samesite=lax`;
  themeStore.set(readShown());
}

/** Day becomes dusk and back, whatever the system says. */
export function toggleTheme(): void {
  setTheme(themeStore.state.isDusk ? 'day' : 'dusk');
}

function readShown(): Shown {
  if (!SYSTEM) return { theme: 'system', isDusk: false, colors: toColors(() => 'black') };
  const chosen = document.documentElement.dataset.theme;
  const theme = chosen === 'day' || chosen === 'dusk' ? chosen : 'system';
  const isDusk = theme === 'dusk' || (theme === 'system' && SYSTEM.matches);
  return { theme, isDusk, colors: readColors() };
}

/** The stylesheet's variables say "this by day, that at dusk"; what an element gets of them is a colour. */
function readColors(): Colors {
  const probe = document.createElement('span');
  document.documentElement.append(probe);
  const colors = toColors((name) => {
    probe.style.color = `var(--color-${name})`;
    return getComputedStyle(probe).color;
  });
  probe.remove();
  return colors;
}

function toColors(read: (name: ColorName) => string): Colors {
  return Object.fromEntries(COLOR_NAMES.map((name) => [name, read(name)])) as Record<ColorName, string>;
}
