import {
  BodySetError,
  type BodySetFile,
  type BodySetRecord,
  type PlacedBody,
  parseBodySet,
  placeBodySet,
  type RecordId,
  writeBodySet,
} from '../../core/document/index.ts';
import type { Editor } from './editor.ts';

const KEY = 'body-clipboard';

/** Keeps some bodies of a set for pasting, on this character or another, here and in other windows; as text on the system's clipboard too, where it may. */
export function copyBodies(
  { document, character }: Pick<Editor, 'document' | 'character'>,
  set: BodySetRecord,
  ids: readonly RecordId[],
): void {
  const file = writeBodySet(document, character, set, ({ id }) => ids.includes(id));
  const text = JSON.stringify(file, null, 1);
  localStorage.setItem(KEY, text);
  // Not allowed everywhere, and not needed for pasting.
  globalThis.navigator?.clipboard?.writeText(text).catch(() => {});
}

/** Bodies that were copied last; null when there are none that can be read. */
export function readCopiedBodies(): BodySetFile | null {
  const text = localStorage.getItem(KEY);
  if (!text) return null;
  try {
    return parseBodySet(text);
  } catch (error) {
    if (error instanceof BodySetError) return null;
    throw error;
  }
}

/** Copied bodies on the joints of a character, see `placeBodySet`. */
export function placeCopiedBodies({ character }: Pick<Editor, 'character'>): readonly PlacedBody[] {
  const copied = readCopiedBodies();
  return copied ? placeBodySet(copied, character) : [];
}
