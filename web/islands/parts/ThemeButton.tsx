import { Moon, Sun } from 'lucide-react';
import { useStore } from '../../state/store.ts';
import { themeStore, toggleTheme } from '../../state/theme.ts';

/** From day to dusk and back. */
export function ThemeButton({ className = 'btn btn-quiet' }: { className?: string }) {
  const isDusk = useStore(themeStore, (shown) => shown.isDusk);
  const label = isDusk ? 'Show by day' : 'Show at dusk';
  return (
    <button type="button" className={className} aria-label={label} title={label} onClick={toggleTheme}>
      {isDusk ? <Sun size={15} /> : <Moon size={15} />}
    </button>
  );
}
