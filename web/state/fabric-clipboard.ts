import { completeFabric, type FabricSettings } from '../../core/cloth/index.ts';

const KEY = 'fabric-clipboard';

export interface CopiedFabric {
  name: string;
  settings: FabricSettings;
}

/** Keeps a fabric for pasting, here and in other windows; as text on the system's clipboard too, where it may. */
export function copyFabric({ name, settings }: CopiedFabric): void {
  const text = JSON.stringify({ name, settings }, null, 1);
  localStorage.setItem(KEY, text);
  // Not allowed everywhere, and not needed for pasting.
  globalThis.navigator?.clipboard?.writeText(text).catch(() => {});
}

/** The fabric that was copied last; null when there is none that can be read. */
export function readCopiedFabric(): CopiedFabric | null {
  try {
    const { name, settings } = JSON.parse(localStorage.getItem(KEY) ?? 'null') as CopiedFabric;
    return { name: String(name).slice(0, 200), settings: completeFabric(settings) };
  } catch {
    return null;
  }
}
