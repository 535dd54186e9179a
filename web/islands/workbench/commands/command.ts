import type { Workbench } from '../../../state/workbench.ts';
import type { Viewport } from '../../../viewport/viewport.ts';

/** What a command works on. */
export interface CommandContext {
  workbench: Workbench;
  viewport: Viewport | null;
}

export type CommandGroup = 'Stages' | 'Playback' | 'View' | 'Brush' | 'Garments' | 'Character' | 'Help';

/** Something that the artist may do: what it is called, its key, when it can be done. Keys, palette and sheet read it. */
export interface Command {
  id: string;
  label: string;
  group: CommandGroup;
  /** As `tinykeys` writes them; the first is the one that is shown. */
  keys?: readonly string[];
  /** Done again while the key stays down. */
  repeats?: boolean;
  /** What is missing before it can be done, as a sentence; null when it can. */
  whyNot?(context: CommandContext): string | null;
  run(context: CommandContext): void;
  /** When the key is let go, of a command that lasts as long as it is held. */
  release?(context: CommandContext): void;
}

const SHOWN: Readonly<Record<string, string>> = {
  $mod: 'Ctrl',
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
  Space: 'Space',
};

/** A key as it is printed: `$mod+Shift+z` → `Ctrl Shift Z`. */
export function tellKey(key: string): string {
  return key
    .split(/\+(?=.)/)
    .filter((part) => !part.startsWith('[') || part === '[')
    .map((part) => SHOWN[part] ?? (part.length === 1 ? part.toUpperCase() : part))
    .join(' ');
}

/** One character and nothing held beside it: a key that speech input and slips of the hand press too. */
export function isCharacterKey(key: string): boolean {
  return key.length === 1 || /^\[Shift\]\+.$/.test(key);
}
