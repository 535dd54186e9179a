import { type DocumentPatch, openPatch, type RecordId } from '../../core/document/index.ts';
import type { PointSet } from '../../core/reach/index.ts';
import type { Character } from '../../core/rig/index.ts';
import { findSeam, setUpRun, suggestReach } from '../../core/run/index.ts';

/** One request for each worker: it is ended when done, or to cancel. */
export interface SuggestRequest {
  character: Character;
  patch: DocumentPatch;
  garmentId: RecordId;
  /** Null: what is held, or the highest border. */
  seam: PointSet | null;
}

export type SuggestReply =
  | { kind: 'progress'; share: number }
  | { kind: 'suggested'; values: Float32Array }
  | { kind: 'failed'; message: string };

const reply = (message: SuggestReply): void => postMessage(message);
const PROGRESS_MS = 80;

addEventListener('message', ({ data }: MessageEvent<SuggestRequest>) => {
  try {
    reply({ kind: 'suggested', values: suggest(data) });
  } catch (error) {
    reply({ kind: 'failed', message: error instanceof Error ? error.message : String(error) });
  }
});

function suggest({ character, patch, garmentId, seam }: SuggestRequest): Float32Array {
  const document = openPatch(patch);
  const setup = setUpRun(document, character);
  const worn = setup.garments.find(({ id }) => id === garmentId);
  if (!worn) throw new RangeError('The garment is not worn: it has no section to suggest a map for.');
  const suggestion = suggestReach(setup, {
    garmentId,
    seam: seam ?? findSeam(worn),
    clips: [...setup.character.clips.keys()],
  });
  let toldAt = 0;
  for (;;) {
    const next = suggestion.next();
    if (next.done) return next.value;
    const now = performance.now();
    if (now - toldAt < PROGRESS_MS) continue;
    toldAt = now;
    reply({ kind: 'progress', share: next.value });
  }
}
