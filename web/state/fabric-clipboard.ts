import { completeFabric, type FabricSettings } from '../../core/cloth/index.ts';
import {
  DOCUMENT_VERSION,
  type FabricRecord,
  type RecordId,
  raiseRecord,
} from '../../core/document/index.ts';

const KEY = 'fabric-clipboard';

export interface CopiedFabric {
  name: string;
  settings: FabricSettings;
}

/** Keeps a fabric for pasting, here and in other windows; as text on the system's clipboard too, where it may. */
export function copyFabric({ name, settings }: CopiedFabric): void {
  const text = JSON.stringify({ documentVersion: DOCUMENT_VERSION, name, settings }, null, 1);
  localStorage.setItem(KEY, text);
  // Not allowed everywhere, and not needed for pasting.
  globalThis.navigator?.clipboard?.writeText(text).catch(() => {});
}

/** The fabric that was copied last; null when there is none that can be read. */
export function readCopiedFabric(): CopiedFabric | null {
  try {
    // Before versions were kept there was none in the text.
    const { documentVersion = 0, name, settings } = JSON.parse(localStorage.getItem(KEY) ?? 'null');
    const copied = {
      type: 'fabric' as const,
      id: KEY as RecordId,
      name: String(name).slice(0, 200),
      settings,
    };
    const fabric = raiseRecord(copied, documentVersion) as FabricRecord;
    // Whoever wrote the text, its numbers are within their ranges afterwards.
    return { name: fabric.name, settings: completeFabric(fabric.settings) };
  } catch {
    return null;
  }
}
