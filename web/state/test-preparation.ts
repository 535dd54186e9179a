import type { AuthoredDocument, DocumentDiff } from '../../core/document/index.ts';
import type { Character } from '../../core/rig/index.ts';
import { PrepareLoop } from '../workers/prepare-loop.ts';
import { Editor } from './editor.ts';
import { PreparationClient } from './preparation-client.ts';
import { Preparing } from './preparing.ts';
import { installLocalWorkers } from './test-worker.ts';

export interface Workshop {
  editor: Editor;
  client: PreparationClient;
  preparing: Preparing;
  /** Diffs as others are told of them, and whether a character came with each. */
  followed: { diff: DocumentDiff; hasCharacter: boolean }[];
}

/** A page's editor with its preparation, on a local worker. */
export function openWorkshop(source: Character, document: AuthoredDocument): Workshop {
  const editor = new Editor(structuredClone(source), document);
  const client = new PreparationClient(source, document);
  const followed: Workshop['followed'] = [];
  const preparing = new Preparing(editor, client, (diff, prepared) => {
    followed.push({ diff, hasCharacter: prepared !== null });
  });
  return { editor, client, preparing, followed };
}

/**
 * A fresh workshop before each test of a suite, on local workers while it runs.
 * @returns Reads the one of the running test.
 */
export function useWorkshop(open: () => Workshop): () => Workshop {
  let restore: () => void;
  let shop: Workshop;
  before(() => {
    restore = installLocalWorkers(() => new PrepareLoop());
  });
  after(() => restore());
  beforeEach(() => {
    shop = open();
  });
  return () => shop;
}

/** Waits until something holds. @throws {Error} When it does not within seconds. */
export async function until(condition: () => boolean): Promise<void> {
  for (let i = 0; i < 400; i++) {
    if (condition()) return;
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
  throw new Error(`It never came about: ${condition}`);
}
